"""At the wall: what was done when, what may be done now, and how the rest of the plan moves."""
