"""The shopping list as CSV: one line per item, sundries below."""

import csv
import io

from dividers.core.materials.buying import Shopping
from dividers.formats.tables.survey_csv import harmless

COLUMNS = ("item", "kind", "needed", "unit", "in stock", "to buy", "left over", "price", "currency", "how it comes about")


def write_shopping(shopping: Shopping) -> str:
    """A shopping list as CSV; nothing in it can run as a formula. Amounts are in litres and metres, whatever is measured in."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for line in shopping.lines:
        need = line.need
        packs = "; ".join(f"{many} x {float(pack.size):.4g} {need.unit}" for pack, many in line.packs)
        cost = f"{float(line.cost):.2f}" if line.priced and line.cost is not None else ""
        writer.writerow(
            [
                harmless(need.item), need.kind, f"{need.amount:.3f}", need.unit, f"{float(line.stock):.3f}", packs,
                f"{float(line.left_over):.3f}", cost, harmless(shopping.currency) if cost else "", harmless("; ".join(need.steps)),
            ]
        )  # fmt: skip
    for what, why in shopping.sundries:
        writer.writerow([harmless(what), "sundry", "", "", "", "", "", "", "", harmless(why)])
    return out.getvalue()
