"""Two edits of one document: both kept where they differ, shown where they clash."""

from hypothesis import given
from hypothesis import strategies as st

from cavatum.store.merge import merge

BASE = {
    "name": "a",
    "note": "",
    "voids": [{"id": "v", "count": 1, "depth_m": {"value": 1, "as_typed": "1 m"}}],
}
LEAVES = st.one_of(st.none(), st.integers(), st.text(max_size=3))
DOCUMENTS = st.dictionaries(
    st.sampled_from("abcd"), st.one_of(LEAVES, st.dictionaries(st.sampled_from("xy"), LEAVES)), max_size=4
)


def changed(**changes):
    return {**BASE, **changes}


def test_edits_of_different_fields_are_both_kept():
    merged, clashes = merge(BASE, changed(name="b"), changed(note="n"))
    assert (merged["name"], merged["note"], clashes) == ("b", "n", [])


def test_the_same_field_changed_by_both_is_a_clash_with_all_three_values():
    merged, clashes = merge(BASE, changed(name="b"), changed(name="c"))
    assert clashes == [{"pointer": "/name", "base": "a", "theirs": "b", "yours": "c"}]
    assert merged["name"] == "b"


def test_a_reading_is_one_value():
    theirs = changed(voids=[{**BASE["voids"][0], "depth_m": {"value": 2, "as_typed": "2 m"}}])
    yours = changed(voids=[{**BASE["voids"][0], "depth_m": {"value": 3, "as_typed": "3 m"}}])
    assert [clash["pointer"] for clash in merge(BASE, theirs, yours)[1]] == ["/voids/v/depth_m"]


def test_voids_added_on_both_devices_are_both_there():
    theirs = changed(voids=[*BASE["voids"], {"id": "t"}])
    yours = changed(voids=[*BASE["voids"], {"id": "y"}])
    merged, clashes = merge(BASE, theirs, yours)
    assert [one["id"] for one in merged["voids"]] == ["v", "t", "y"] and not clashes


def test_a_void_removed_here_and_changed_there_is_a_clash():
    theirs = changed(voids=[{**BASE["voids"][0], "count": 5}])
    merged, clashes = merge(BASE, theirs, changed(voids=[]))
    assert clashes[0]["yours"] is None and merged["voids"][0]["count"] == 5


def test_a_shape_of_another_kind_is_taken_or_clashes_as_a_whole():
    box, bowl, cone = ({"kind": kind, "depth_m": 1} for kind in ("box", "bowl", "cone"))
    assert merge({"s": box}, {"s": bowl}, {"s": cone})[1][0]["pointer"] == "/s"


@given(DOCUMENTS, DOCUMENTS)
def test_an_edit_of_one_side_alone_is_taken_whole(base, edited):
    assert merge(base, edited, base) == (edited, [])
    assert merge(base, base, edited)[0] == edited


@given(DOCUMENTS, DOCUMENTS)
def test_the_same_edit_on_both_sides_never_clashes(base, edited):
    assert merge(base, edited, edited) == (edited, [])
