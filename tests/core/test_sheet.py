"""What stands on a data sheet's lines, read by hand here. How sheets write values: common practice, no
source.
"""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common.errors import DomainError
from cavatum.core.resin.typical import typical_systems
from cavatum.core.sheet.finding import Context, context_of, hits_in, is_head, read_cells
from cavatum.core.sheet.grammar import Value, in_si, kind_of, values_in
from cavatum.core.sheet.judging import Found, agreed, in_unit, judged
from cavatum.core.sheet.kind import document_of, nearest_class
from cavatum.core.sheet.marks import with_daggers
from cavatum.core.sheet.names import part_names
from cavatum.core.sheet.page import Page, Word, box_of, rows_of
from cavatum.core.sheet.reading import hits_of, language_of
from cavatum.core.sheet.taking import fields_of, retyped, with_taken
from cavatum.core.sheet.tokens import Token, tokens_of, value_of
from cavatum.core.sheet.vocabulary import folded, pieces, vocabulary
from cavatum.formats.pages_in import read_text
from cavatum.formats.sheet_words import vocabularies

WORDS = vocabularies()
MONTH = 365.25 / 12 * 86400


def on(text: str) -> list[Word]:
    found, at = [], 0
    for part in text.split():
        found.append(Word(text=part, x0=at, x1=at + len(part), top=0, bottom=1))
        at += len(part) + 1
    return found


def said(language: str, *cells: str) -> list[Found]:
    words = WORDS[language]
    items = read_cells([tokens_of(on(one), words, at) for at, one in enumerate(cells)], words)
    hits = hits_in(items, [Context()] * len(cells), Context(), words)
    return judged([(1, one) for one in hits], words)


def of_text(text: str, language: str = "en") -> list[Found]:
    pages = read_text(text)
    return judged(hits_of(pages, WORDS[language]), WORDS[language])


@pytest.mark.parametrize(
    ("language", "cells", "quantity", "low", "high"),
    [
        ("en", ("Pot life", "30-40 min"), "working_time", 1800, 2400),
        ("en", ("Pot life (min)", "30"), "working_time", 1800, 1800),
        ("en", ("Demould time", "h", "24", "ISO 1675"), "demould", 86400, 86400),
        ("en", ("Gel time", "1 h 30 min"), "gel_time", 5400, 5400),
        ("en", ("Maximum pour depth 1 1/2 in (38 mm)",), "depth_most", 0.0381, 0.0381),
        ("en", ("Max. thickness: ½ in",), "depth_most", 0.0127, 0.0127),
        ("en", ("Relative humidity", "max. 70 %"), "humidity_most", 0.7, 0.7),
        ("en", ("Viscosity (mixed)", "600 ± 100 cP"), "viscosity", 0.5, 0.7),
        ("en", ("Weight per gallon", "9.2 lb/gal"), "density", 1102.4, 1102.4),  # 9.2 x 119.8264
        ("en", ("Specific gravity (Part A)", "1.12"), "density", 1120, 1120),
        ("en", ("Shelf life", "12 months"), "shelf_life", 12 * MONTH, 12 * MONTH),
        ("en", ("Hardness", "80 Shore D"), "hardness", 80, 80),
        ("en", ("Working temperature", "68-77 °F"), "room", 20, 25),
        ("de", ("Viskosität (Mischung)", "1.200 mPa·s"), "viscosity", 1.2, 1.2),
        ("de", ("Dichte", "1,10 g/cm³"), "density", 1100, 1100),
        ("de", ("Klebfrei nach", "Std.", "4"), "tack_free", 14400, 14400),
        ("fr", ("Couche suivante", "2 à 4 heures"), "recoat", 7200, 14400),
        ("es", ("Desmoldeo", "24 horas"), "demould", 86400, 86400),
        ("it", ("Indurimento completo", "7 giorni"), "full_cure", 604800, 604800),
    ],
)
def test_a_line_says_its_value(language, cells, quantity, low, high):
    (one,) = said(language, *cells)
    assert one.quantity == quantity
    assert math.isclose(one.low, low, rel_tol=1e-4) and math.isclose(one.high, high, rel_tol=1e-4)


@pytest.mark.parametrize(
    ("cells", "low", "high", "basis"),
    [
        (("Mix ratio", "2:1 by volume"), 2, 1, "volume"),
        (("Mixing ratio", "100 parts A to 45 parts B by weight"), 100, 45, "weight"),
        (("Take 2A:1B by volume.",), 2, 1, "volume"),
        (("Mix ratio", "1B : 2A by weight"), 2, 1, "weight"),
        (("Mix ratio", "2:1"), 2, 1, ""),
    ],
)
def test_a_ratio_is_a_to_b_and_its_basis_is_never_guessed(cells, low, high, basis):
    (one,) = said("en", *cells)
    assert (one.low, one.high, one.basis) == (low, high, basis)
    assert ("no-basis" in one.doubts) == (not basis) == (one.sure == "unsure")


def test_two_ratios_on_a_line_keep_their_own_basis():
    assert [(one.low, one.basis) for one in said("en", "Ratio", "2:1 by volume", "100:45 by weight")] == [
        (2, "volume"),
        (100, "weight"),
    ]


def test_conditions_go_where_they_belong():
    (one,) = said("en", "Pot life (150 g at 25 °C)", "30 min until gel")
    assert (one.mass_kg, one.at_c, one.until) == (0.15, 25, "gel")
    two = said("en", "Pot life: 45 min at 20 °C, 30 min at 25 °C")
    assert [(one.low, one.at_c) for one in two] == [(2700, 20), (1800, 25)]
    (fr,) = said("fr", "Vie en pot", "45 min à 25 °C, 150 g")
    assert (fr.low, fr.high, fr.at_c, fr.mass_kg) == (2700, 2700, 25, 0.15)


def test_a_table_with_heads_names_parts_temperatures_and_products():
    parts = of_text("            Part A      Part B     Mix\nDensity     1.10 g/mL   0.98 g/mL  1.06 g/mL")
    assert {one.part: one.low for one in parts} == pytest.approx({"a": 1100, "b": 980, "mix": 1060})
    warm = of_text("            20 °C     30 °C\nPot life    60 min    30 min")
    assert [(one.low, one.at_c) for one in warm] == [(3600, 20), (1800, 30)]
    products = of_text("            Wren 7     Wren S\nPot life    60 min     30 min")
    assert [(one.low, one.product) for one in products] == [(3600, "wren 7"), (1800, "wren s")]


def test_proportions_in_a_table_make_ratios():
    found = of_text(
        "Mix ratio     by volume      by weight\n"
        "Part A        2              100\n"
        "Part B        1              43"
    )
    assert {(one.basis, one.low, one.high) for one in found} == {("volume", 2, 1), ("weight", 100, 43)}


def test_a_footnote_says_what_its_value_holds_at():
    (one,) = of_text("Pot life      30 min*\n\n* at 25 °C, 150 g")
    assert (one.at_c, one.mass_kg) == (25, 0.15)


def test_prose_is_read_sentence_by_sentence():
    found = of_text(
        "This clear resin has a pot life of about 45 minutes at 25 °C and may be\n"
        "demoulded later than most others of its kind here. Full cure takes place after 7 days.\n"
        "Wear gloves whenever you handle it and air the room as well as you can.\n"
    )
    assert {one.quantity: one.low for one in found} == {"working_time": 2700, "full_cure": 604800}


def test_a_name_above_its_value_holds_for_it():
    assert [(one.quantity, one.low) for one in of_text("Pot life\n30 min")] == [("working_time", 1800)]


def test_what_is_said_twice_is_one_and_what_differs_is_doubted():
    (one,) = said("en", "Pot life 30 min", "Working time 30 min at 25 °C")
    assert one.at_c == 25 and len(one.where) == 2
    two = said("en", "Pot life 30 min", "Working time 50 min")
    assert [one.sure for one in two] == ["unsure", "unsure"] and "said-otherwise" in two[0].doubts


def test_what_cannot_be_is_never_sure():
    (one,) = said("en", "Density", "11 g/mL")
    assert one.sure == "unsure" and one.doubts == ["out-of-sense"]
    words = [word.model_copy(update={"sure": 0.4}) for word in on("Pot life 30 min")]
    hits = hits_in(
        read_cells([tokens_of(words, WORDS["en"])], WORDS["en"]), [Context()], Context(), WORDS["en"]
    )
    assert judged([(1, one) for one in hits], WORDS["en"])[0].doubts == ["hard-to-read"]


def test_a_word_a_letter_beside_a_known_one_is_mended_in_pictures_only():
    assert WORDS["it"].mended("sformatvra") == "sformatura" and WORDS["it"].mended("xyzzy") == "xyzzy"
    seen = [word.model_copy(update={"sure": 0.9}) for word in on("Sformatvra 24 ore")]
    typed = on("Sformatvra 24 ore")
    kinds = [[one.kind for one in tokens_of(words, WORDS["it"])][0] for words in (seen, typed)]
    assert kinds == ["LABEL", "WORD"]


@pytest.mark.parametrize(
    ("written", "comma", "value", "certain"),
    [
        ("1.5", False, 1.5, True),
        ("1,5", False, 1.5, True),
        ("1,200", False, 1200, False),
        ("1.200", True, 1200, False),
        ("1.200,5", True, 1200.5, True),
        ("0.250", False, 0.25, True),
        ("1,200,000", False, 1_200_000, True),
        ("1 1/2", False, 1.5, True),
        ("3/4", False, 0.75, True),
    ],
)
def test_numbers_as_they_are_written(written, comma, value, certain):
    assert value_of(written, comma=comma) == (value, certain)


def test_no_fraction_is_over_nothing():
    with pytest.raises(ValueError, match="1/0"):
        value_of("1/0", comma=False)
    assert said("en", "Pot life", "3/0 min") == []


KINDS = [
    *("NUM", "UNIT", "LABEL", "PART", "BASIS", "MARK", "WORD", "COLON", "OPEN", "CLOSE", "COMMA", "STOP"),
    *("EQUAL", "SLASH", "PLUS", "SPREAD", "MOST", "LEAST", "ABOUT", "AT", "DASH", "TO", "PARTS", "METHOD"),
]
ONE_WORD = Word(text="x", x0=0, top=0, x1=1, bottom=1)
WHATS = {
    "NUM": ["1", "2.5", "3/4"],
    "UNIT": ["min", "°C", "g"],
    "TO": ["", "or at", "or most"],
    "PART": ["a", "b"],
}


@st.composite
def any_tokens(draw):
    kinds = draw(st.lists(st.sampled_from(KINDS), max_size=9))
    return [
        Token(
            kind=kind,
            what=draw(st.sampled_from(WHATS.get(kind, [kind]))),
            text=kind,
            words=(ONE_WORD,),
            cell=0,
        )
        for kind in kinds
    ]


@given(any_tokens())
def test_no_line_is_outside_the_grammar(tokens):
    """Whatever stands on a line: what is no value stays as it was, in its order."""
    items = values_in(tokens, comma=False)
    left = [one for one in items if isinstance(one, Token)]
    assert [one for one in tokens if any(one is two for two in left)] == left
    assert len(items) <= len(tokens)


@given(st.text(max_size=200))
def test_any_text_is_read_or_left(text):
    assert isinstance(of_text(text), list)


def test_units_and_kinds():
    assert kind_of("lb/gal") == "density" and kind_of("m2/L") == "coverage" and kind_of("parts") == "parts"
    assert math.isclose(in_si(77, "°F"), 25.0) and in_si(5, "parts") == 5
    assert math.isclose(in_unit(25.0, "°F"), 77.0) and in_unit(5.0, "") == 5.0


def test_words_are_looked_up_folded_and_by_the_longest():
    assert folded("Über–Länge ×µ") == "uber-lange xu" and pieces("g/cm3, 1.5") == [
        "g",
        "/",
        "cm3",
        ",",
        "1",
        ".",
        "5",
    ]
    used, meanings = WORDS["en"].longest(["pot", "life", "test"], 0)
    assert used == 2 and meanings[0].what == "working_time"
    with pytest.raises(KeyError):
        vocabulary({"language": "xx"}, {}, {})


def test_every_language_names_every_quantity():
    needed = set(WORDS["en"].quantities)
    for language, words in WORDS.items():
        from cavatum.formats.sheet_words import _read

        named = set(_read(f"{language}.toml")["labels"])
        assert needed <= named, (language, needed - named)
        assert words.comma == (language != "en")


def test_the_language_is_told_by_its_words():
    texts = {
        "en": "The pot life is short. Mix the parts with care before use.",
        "de": "Die Topfzeit ist kurz. Vor der Verarbeitung das Harz und den Härter mischen.",
        "fr": "La vie en pot est courte. Mélanger la résine avec le durcisseur avant emploi.",
        "es": "El tiempo de trabajo es corto. Mezclar la resina con el endurecedor antes de usar.",
        "it": "Il tempo di lavoro è breve. Mescolare la resina con il catalizzatore prima dell'uso.",
    }
    assert {name: language_of(read_text(text), WORDS) for name, text in texts.items()} == {
        name: name for name in texts
    }


def test_rows_and_cells_are_told_apart_by_their_gaps():
    page = read_text("Pot life      30 min\nDemould       24 h")[0]
    assert [[cell.text for cell in row.cells] for row in rows_of(page)] == [
        ["Pot life", "30 min"],
        ["Demould", "24 h"],
    ]
    box = box_of(page.words[:2], 1)
    assert (box.x0, box.page) == (0, 1) and box.x1 > box.x0
    with pytest.raises(ValueError, match="empty"):
        box_of([], 1)


def test_a_head_has_no_values_but_conditions():
    def items(*cells):
        return read_cells([tokens_of(on(one), WORDS["en"], at) for at, one in enumerate(cells)], WORDS["en"])

    assert is_head(items("Part A", "Part B"), WORDS["en"]) and is_head(items("20 °C", "30 °C"), WORDS["en"])
    assert is_head(items("Density", "Viscosity (25 °C)"), WORDS["en"])
    assert not is_head(items("Tg", "58 °C"), WORDS["en"]) and not is_head(items("Pot life"), WORDS["en"])
    assert context_of(items("Part A [g/mL]")[0], WORDS["en"]).part == "a"


def taken(text: str, like: str = "casting-epoxy-25"):
    base = next(one for one in typical_systems() if one.id == like)
    pages = read_text(text)
    found = judged(hits_of(pages, WORDS["en"]), WORDS["en"])
    return with_taken(base, found, "a" * 64, pages).system, base, found


def test_what_is_taken_stands_where_it_belongs_with_its_place():
    made, base, found = taken(
        "Mix ratio             2:1 by volume, 100:43 by weight\n"
        "Density (Part A)      1.12 g/mL\n"
        "Viscosity (mixed)     600 mPa s at 25 °C\n"
        "Pot life              40 min (150 g, 25 °C) until gel\n"
        "Recoat window         4-10 h\n"
        "Demould               24 h\n"
        "Layer thickness       5-25 mm\n"
        "Working temperature   18-28 °C\n"
        "Pigment               max 5 %\n"
        "Coverage              4 m2/L\n"
    )
    assert made.basis == "volume" and made.ratio.value == 2 and made.ratio.origin == "sheet"
    assert made.ratio_other is not None and math.isclose(made.ratio_other.value, 100 / 43)
    assert made.density_a_kg_m3.value == pytest.approx(1120) and made.density_b_kg_m3 == base.density_b_kg_m3
    assert made.viscosity_pa_s.value == pytest.approx(0.6) and made.viscosity_at_c.value == 25
    work = made.working_time
    assert (work.time_s.value, work.mass_kg.value, work.temperature_c.value, work.criterion) == (
        2400,
        0.15,
        25,
        "gel",
    )
    assert (made.bond_from_s.value, made.bond_to_s.value, made.demould_s.value) == (14400, 36000, 86400)
    assert made.least_depth_m.value == 0.005 and made.depth_rules[0].most_depth_m.value == 0.025
    assert (made.room_from_c.value, made.room_to_c.value, made.colourant_most.value) == (18, 28, 0.05)
    assert made.full_cure_s == base.full_cure_s and made.full_cure_s.origin == "typical"
    places = {one.field: one for one in made.read_from}
    assert {"ratio", "working_time", "bond_to_s"} <= set(places) and places["ratio"].written == "2 : 1"
    assert 0 < places["ratio"].left < places["ratio"].right <= 1 and places["ratio"].file == "a" * 64
    assert [fields_of(one) for one in found if one.quantity == "coverage"] == [[]]


def test_a_second_temperature_is_the_sheets_own():
    made, *_ = taken("            20 °C     30 °C\nPot life    60 min    30 min\nDemould     36 h      18 h")
    assert (made.working_time.temperature_c.value, made.working_time.time_s.value) == (20, 3600)
    assert (made.other_at_c.value, made.other_working_s.value, made.other_demould_s.value) == (
        30,
        1800,
        64800,
    )


def test_two_depth_rules_by_mass_are_both_kept():
    made, *_ = taken("Max. pour depth 100 mm up to 1 kg\nMax. pour depth 40 mm up to 20 kg")
    assert [(one.most_depth_m.value, one.up_to_kg.value) for one in made.depth_rules] == [
        (0.1, 1),
        (0.04, 20),
    ]


def test_a_correction_holds_and_a_wrong_one_is_refused():
    (one,) = said("en", "Pot life", "30 min")
    assert retyped(one, "35 min").low == 2100 and retyped(one, None) == one
    (ratio,) = said("en", "Mix ratio", "2:1")
    assert retyped(ratio, "3:1", "weight").basis == "weight" and retyped(ratio, "3:1").low == 3
    with pytest.raises(DomainError):
        retyped(one, "35 mm")


def test_a_ratio_without_its_basis_is_not_taken():
    made, base, _ = taken("Mix ratio 2:1")
    assert made.ratio == base.ratio and made.basis == base.basis and made.read_from is None


def test_documents_are_told_apart():
    codes = read_text("H302 H315 H317 H319 H411 P261 P273 P280 P302 hazard statements")
    assert document_of(codes, []) == "safety data sheet"
    assert document_of(read_text("A paint for fences"), []) == "other"
    found = of_text("Pot life 30 min\nFull cure 7 days")
    assert document_of(read_text("x"), found) == "data sheet"


def test_the_nearest_class_is_by_working_time_and_depth():
    slow = of_text("Pot life 24 h\nMax. pour depth 80 mm\nDemould 72 h")
    assert nearest_class(slow, typical_systems()) == "slow-casting-epoxy"
    fast = of_text("Pot life 12 min\nDemould 2 h")
    assert nearest_class(fast, typical_systems()) == "fast-casting-polyurethane"


def test_a_value_keeps_the_page_it_stands_on():
    pages = [
        Page(number=number, width=100, height=10, words=on(f"Pot life {10 * number} min"))
        for number in (1, 2)
    ]
    found = judged(hits_of(pages, WORDS["en"]), WORDS["en"])
    assert [one.where[0].page for one in found] == [1, 2]


def test_values_and_tokens_say_where_they_stand():
    items = values_in(tokens_of(on("Pot life 30 min"), WORDS["en"]), comma=False)
    value = next(one for one in items if isinstance(one, Value))
    assert [word.text for word in value.words] == ["30", "min"] and value.cell == 0


@pytest.mark.parametrize(
    ("language", "text", "names"),
    [
        ("en", "Part A: Alder resin R12\nPart B: Alder quick", {"a": "Alder resin R12", "b": "Alder quick"}),
        (
            "de",
            "Komponente A    Klarguss Harz\nKomponente B    Klar H9",
            {"a": "Klarguss Harz", "b": "Klar H9"},
        ),
        ("en", "Part A (resin)\nPart B (hardener)", {}),
        ("en", "Part A: 1.10 g/mL\nViscosity part B 300 mPa s", {}),
        ("en", "Part A must be stirred well before it is weighed, and warmed.", {}),
    ],
)
def test_names_of_the_parts_are_read_where_they_stand_alone(language, text, names):
    found = part_names(read_text(text), vocabularies()[language])
    assert {one.part: one.name for one in found} == names


def from_picture(text: str) -> list[Found]:
    """As a photo's words: none of them certain by itself."""
    pages = [
        page.model_copy(update={"words": [one.model_copy(update={"sure": 0.9}) for one in page.words]})
        for page in read_text(text)
    ]
    known = vocabularies()["en"]
    return judged(hits_of(pages, known), known)


def test_what_two_readings_of_a_picture_say_alike_is_sure_and_nothing_else():
    first = from_picture("Pot life 30 min (25 °C, 150 g)\nDemould 24 h\nFull cure 7 days\nTack free 6 h")
    second = from_picture("Pot life 30 min (25 °C, 150 g)\nDemould 21 h\n\nTack free 6 h")
    assert all(one.sure != "sure" for one in first)
    told = {one.quantity: (one.sure, one.doubts) for one in agreed(first, second)}
    assert told["working_time"] == ("sure", [])
    assert "read-otherwise" in told["demould"][1] and told["demould"][0] == "unsure"
    assert "read-once" in told["full_cure"][1]
    assert told["tack_free"][0] == "sure"


def test_a_number_that_a_picture_left_without_its_unit_doubts_the_value_before_it():
    """ "200 q": the mass that the time holds for, perhaps."""
    found = {one.quantity: one for one in from_picture("Pot life 6 h at 25 °C, 200 q\nDemould 24 h")}
    assert "number-beside" in found["working_time"].doubts
    assert "number-beside" not in found["demould"].doubts


def table(*rows: tuple[str, ...], gap: float = 0.4) -> Page:
    """Columns at 0, 40 and 80, letters one wide and one high, lines so near as a picture has them."""
    words = []
    for line, row in enumerate(rows):
        for column, text in enumerate(row):
            at, top = 40.0 * column, line * (1 + gap)
            for part in text.split():
                words.append(Word(text=part, x0=at, x1=at + len(part), top=top, bottom=top + 1, sure=0.9))
                at += len(part) + 0.5
    return Page(number=1, width=120, height=40, words=words)


@pytest.mark.parametrize("method", [(), ("ISO 868",)])
def test_a_column_of_long_values_is_no_paragraph(method):
    page = table(
        ("Working time", *method, "approx. 20 minutes at 23 °C, 500 g"),
        ("Tack free", *method, "after 2 hours at 23 °C"),
        ("Clear, deep and slow",),
    )
    found = {one.quantity: one for one in judged(hits_of([page], WORDS["en"]), WORDS["en"])}
    assert (found["working_time"].low, found["working_time"].mass_kg) == (1200, 0.5)
    assert (found["tack_free"].low, found["tack_free"].at_c) == (7200, 23)


@pytest.mark.parametrize(
    ("sign", "note"), [("t", "t at"), ("f", "f at"), ("+", "+ at"), ("t", "Fat"), ("t", "† at")]
)
def test_a_dagger_that_a_picture_made_a_letter_keeps_its_condition(sign, note):
    rows = [("Pot life" + sign, "40 min"), ("Tack free" + sign, "3 h"), ("Full cure", "3 d")]
    with_note = table(*rows, (f"{note} 20 °C",), gap=2)
    read = with_daggers(with_note, WORDS["en"])
    found = {one.quantity: one for one in judged(hits_of([read], WORDS["en"]), WORDS["en"])}
    assert {name: one.at_c for name, one in found.items()} == {
        "working_time": 20,
        "tack_free": 20,
        "full_cure": None,
    }
    without = table(*rows, gap=2)
    assert with_daggers(without, WORDS["en"]) == without


@pytest.mark.parametrize(
    ("language", "text", "sizes"),
    [
        ("en", "Kit sizes: 1.5 kg, 4.5 kg and 15 kg", ["1.5 kg", "4.5 kg", "15 kg"]),
        ("en", "Packaging   1 L / 3.8 L", ["1 L", "3.8 L"]),
        ("de", "Gebinde: 0,75 kg, 7,5 kg", ["0.75 kg", "7.5 kg"]),
        ("fr", "Conditionnement : 1 kg - 5 kg - 25 kg", ["1 kg", "5 kg", "25 kg"]),
        ("es", "Envases: 1,6 kg y 4,8 kg", ["1.6 kg", "4.8 kg"]),
        ("it", "Confezioni: 750 g, 1,5 kg", ["750 g", "1.5 kg"]),
    ],
)
def test_kit_sizes_are_a_row_and_never_a_range(language, text, sizes):
    assert [one.as_typed for one in of_text(text, language) if one.quantity == "kit"] == sizes
