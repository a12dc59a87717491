"""Keeping what was entered: copies, backups, and looking whether all is well."""
