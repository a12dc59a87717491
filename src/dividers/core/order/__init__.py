"""The schedule: what is to be done, what must wait for what, when each step is done, and why. See docs/schedule.md."""
