"""Pure computation: from a job to its plan. See README.md beside this file for what code here may never do."""
