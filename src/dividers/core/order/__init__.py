"""The order of work: what is to be done, what must wait for what, when each thing is done, and why. See docs/order-of-work.md."""
