"""What was measured: readings kept, the outline they give, what it means, and what was marked. See docs/measure.md."""
