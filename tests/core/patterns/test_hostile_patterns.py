"""Job files with odd values in patterns, folds and methods: planned, or refused with a message, and nothing else."""

from budget import examples
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.errors import BadJob
from dividers.core.job_file.first_values import first_document
from dividers.core.job_file.job_reader import read_job
from dividers.core.job_file.unit_change import in_units
from dividers.core.patterns import PATTERNS
from dividers.core.patterns.base.ground import Ground
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_text
from dividers.core.survey.sheet import sheets_of

SCALARS = (
    st.none()
    | st.booleans()
    | st.integers(-5, 10**7)
    | st.floats()
    | st.sampled_from(
        ["", "A", "1/2", "{0}", "ink", "vertical", "12", "0.3", "-3", "1e9", "0.001 mm", "3 mm", "9 m", "90 m", "none"]
    )
)
KEYS = st.sampled_from(["A", "B", "at", "on", "cross", "left", "top", "color", "stripes", "width", "colors", "{x}"])
JUNK = st.recursive(SCALARS, lambda inner: st.lists(inner, max_size=3) | st.dictionaries(KEYS, inner, max_size=3), max_leaves=6)
SIDE = st.sampled_from(["top", "right", "bottom", "left"])
FOLDS = JUNK | st.tuples(st.just("front"), SIDE, st.just("side"), SIDE).map(lambda fold: [list(fold)])


@examples(100)
@given(st.data(), st.sampled_from(PATTERNS))
def test_odd_jobs_are_planned_or_refused(data, pattern):
    document = wall()
    piece = document["pieces"][0]
    ground = Ground.of(sheets_of(read_job(document).pieces[0].surface)[0], 24.0)
    piece["pattern"] = first_document(pattern.key, ground, "in", ["ink", None])
    for parameter in data.draw(st.lists(st.sampled_from(pattern.parameters), max_size=2)):
        piece["pattern"][parameter.key] = data.draw(JUNK)
    if data.draw(st.booleans()):
        piece["surface"]["panels"].append({"name": "side", "width": "30", "height": data.draw(st.sampled_from(["96", "40"]))})
        piece["surface"]["folds"] = data.draw(FOLDS)
    if data.draw(st.booleans()):
        piece["method"] |= {"order": data.draw(JUNK), "rates": data.draw(JUNK)}
    try:
        job = read_job(document)
        assert plan_text(plan_job(job))
        assert read_job(in_units(document, "mm")).units == "mm"
    except BadJob as bad:
        assert all(fault.path and fault.message for fault in bad.faults)
