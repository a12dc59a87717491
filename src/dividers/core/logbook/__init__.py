"""What the logbook makes of what was found: lift classes, evidence, proposals."""
