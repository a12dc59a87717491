"""What a hand does at the stations: folds are opened by their summaries before what is in them is used."""


def unfold(page, *names):
    """Open folds and menus by their ids, one in another; those that are open stay so."""
    for name in names:
        fold = page.locator(f"#{name}")
        if not fold.evaluate("each => each.open"):
            fold.locator("> summary").click()


def look(page, title):
    """Choose another pattern from its picture."""
    unfold(page, "look-fold")
    page.locator(".picker span", has_text=title).click()
