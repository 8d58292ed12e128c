"""The label of a bottle: its part, lot and dates in five languages, and what speaks against pouring from it.
Labels and names are made up.
"""

from __future__ import annotations

from datetime import date

import pytest

from cavatum.core.mix.label_check import label_verdicts
from cavatum.core.resin.typical import typical_systems
from cavatum.core.sheet.container import borne_out, label_of, likeness, plain_lot
from cavatum.formats.pages_in import read_text
from cavatum.formats.sheet_words import words_of_labels

TODAY = date(2026, 11, 30)
CLASSES = {one.id: one for one in typical_systems()}
MINE = CLASSES["craft-casting-epoxy"].model_copy(update={"id": "mine", "name": "Riverbend Clear 30"})
OTHER = CLASSES["coating-epoxy"].model_copy(update={"id": "other", "name": "Lakeside Table Top"})


def read(text: str):
    return label_of(read_text(text), words_of_labels())


@pytest.mark.parametrize(
    ("text", "part", "lot", "until"),
    [
        ("Riverbend Clear 30\nPart A (resin)\nLot 26-0417 Exp 2027-06", "a", "26-0417", date(2027, 6, 30)),
        ("Klarguss\nKomponente B\nCharge: K4471\nHaltbar bis 31.12.2027", "b", "K4471", date(2027, 12, 31)),
        ("Résine\nN° de lot: R882\nÀ utiliser avant le 15/02/2028", "a", "R882", date(2028, 2, 15)),
        ("Endurecedor\nLote\nE-20931\nCaducidad 03/2027", "b", "E-20931", date(2027, 3, 31)),
        ("Indurente\nLotto 55A21\nScadenza: 28 feb 2029", "b", "55A21", date(2029, 2, 28)),
        ("Hardener\nBatch no. 7781B\nBest before: DEC 2026", "b", "7781B", date(2026, 12, 31)),
    ],
)
def test_part_lot_and_date_are_read_in_five_languages(text, part, lot, until):
    label = read(text)
    assert (label.part, label.lot, label.best_before) == (part, lot, until)


def test_a_date_that_may_be_two_days_is_left_open():
    label = read("Part A\nLot 1234\nExp 05/04/2027")
    assert label.best_before is None
    assert label.open_dates == ["05/04/2027"]
    assert read("Part A\nExp 25/04/2027").best_before == date(2027, 4, 25)
    assert read("Part A\nExp 04/25/2027").best_before == date(2027, 4, 25)
    assert read("Part A\nExp 31/02/2027").best_before is None


def test_a_label_that_names_both_parts_alike_says_neither():
    assert read("Mix part A with part B").part == ""


@pytest.mark.parametrize("part", ["A", "B"])
def test_a_letter_goes_before_a_word_of_the_products_name(part):
    """A hardener of a product called "Casting Resin" is no part A, however large that name stands."""
    page = read_text(f"CASTING RESIN\nPart {part}\nLot 4471")[0]
    larger = [
        one.model_copy(update={"bottom": one.top + 40}) if one.text == "RESIN" else one for one in page.words
    ]
    label = label_of([page.model_copy(update={"words": larger})], words_of_labels())
    assert label.part == part.lower()


def codes(text: str, part: str = "A") -> list[str]:
    return [one.code for one in label_verdicts(read(text), part, MINE, [MINE, OTHER], TODAY)]


def test_the_bottle_is_compared_with_what_is_due():
    assert codes("Riverbend Clear 30\nPart A\nLot 26-0417") == ["label-fits"]
    assert codes("Riverbend Clear 30\nPart B\nLot 26-0417") == ["label-other-part"]
    assert codes("Lakeside Table Top\nPart B") == ["label-other-resin", "label-other-part"]
    assert codes("Lakeside Table Top\nPart A") == ["label-other-resin"]
    assert codes("Riverbend Clear 30\nPart A\nUse by 2026-10-31") == ["label-expired"]
    assert codes("Riverbend Clear 30") == ["label-open"]
    assert codes("Part A") == ["label-open"]
    told = label_verdicts(read("Lakeside Table Top\nPart B"), "A", MINE, [MINE, OTHER], TODAY)
    assert told[0].title == "This is part B of another resin"


def test_a_letter_that_the_picture_got_wrong_is_forgiven_another_name_is_not():
    assert likeness(read("Riverbemd Clear 30"), MINE.name) == 1.0
    assert likeness(read("Lakeside Table Top"), MINE.name) < 0.3


def test_two_readings_of_one_label_count_where_they_do_not_differ():
    first, second = read("Part A\nLot S-0931A\nExp 2027-06"), read("Part A\nLot S-O931A\nExp 2027-08")
    both = borne_out(first, second)
    assert (both.part, both.lot, both.best_before) == ("a", "S-0931A", None)
    assert borne_out(first, read("Part B\nLot K-77")).part == ""
    assert borne_out(first, read("Part B\nLot K-77")).lot == ""
    assert plain_lot("s-0931a") == plain_lot("S O931A") != plain_lot("S-0932A")


@pytest.mark.parametrize(
    "names",
    [
        "January February March April May June July August September October November December",
        "Januar Februar März April Mai Juni Juli August September Oktober November Dezember",
        "janvier février mars avril mai juin juillet août septembre octobre novembre décembre",
        "enero febrero marzo abril mayo junio julio agosto septiembre octubre noviembre diciembre",
        "gennaio febbraio marzo aprile maggio giugno luglio agosto settembre ottobre novembre dicembre",
    ],
)
def test_every_months_whole_name_is_known(names):
    """Names of the months: the Unicode CLDR's, from memory."""
    for number, name in enumerate(names.split(), 1):
        assert read(f"Part A\nExp 9 {name} 2027").best_before == date(2027, number, 9), name
