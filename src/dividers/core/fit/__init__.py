"""Making a pattern come out even: counts, sizes, borders, several runs, places to hit. See docs/survey.md."""
