"""Who may come in from elsewhere, and to what."""
