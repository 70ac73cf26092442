import pytest

from buccaphon.speech.lexicon import pronunciations, wordings
from buccaphon.speech.script import script_words
from buccaphon.speech.spelling import readings, spoken_words


@pytest.mark.parametrize(
    ("written", "said"),
    [
        ("plums", "plums"),
        ("I'll", "i'll"),
        ("I’ll", "i'll"),
        ("25", "twenty five"),
        ("1984", "nineteen eighty four"),
        ("2,000", "two thousand"),
        ("3rd", "third"),
        ("3.14", "three point one four"),
        ("$3.50", "three dollars fifty cents"),
        ("£1", "one pound"),
        ("£2.01", "two pounds one penny"),
        ("7:05", "seven oh five"),
        ("7:00", "seven o'clock"),
        ("Mrs", "missus"),
        ("&", "and"),
        ("50%", "fifty percent"),
        ("well-known", "well known"),
        ("B2", "b two"),
    ],
)
def test_written_forms_are_spelled_out_as_said(written, said):
    assert " ".join(spoken_words(written)) == said


@pytest.mark.parametrize(
    ("written", "said"),
    [
        ("1984", "nineteen eighty four | one thousand nine hundred and eighty four"),
        ("101", "one hundred one | one hundred and one | a hundred one | one oh one"),
        ("007", "double oh seven | zero zero seven"),
        ("0", "zero | oh | nought"),
        ("90210", "nine oh two one oh"),
        ("555-1234", "five five five one two three four"),
        ("5-6", "five to six | five six"),
        ("-4", "minus four | negative four"),
        (".5", "point five | zero point five"),
        ("1/2", "one half | a half | one over two"),
        ("24/7", "twenty four seven"),
        ("2¾", "two and three quarters"),
        ("$3.50", "three dollars and fifty cents | three fifty"),
        ("$1.05", "one dollar five cents | one oh five"),
        ("$0.99", "ninety nine cents"),
        ("$5m", "five million dollars"),
        ("$5 million", "five million dollars | five million dollar"),
        ("£1.5 billion", "one point five billion pounds"),
        ("$20-a-day", "twenty dollars a day"),
        ("£100", "a hundred pounds"),
        ("50p", "fifty pence"),
        ("10:30", "ten thirty | half past ten"),
        ("12:45", "twelve forty five | quarter to one"),
        ("8pm", "eight p m"),
        ("12/5/2024", "december fifth twenty twenty four | may twelfth twenty twenty four"),
        ("21st-century", "twenty first century"),
        ("1990s", "nineteen nineties"),
        ("'60s", "sixties"),
        ("1800s", "eighteen hundreds"),
        ("6ft", "six feet"),
        ("1kg", "one kilogram"),
        ("60km/h", "sixty kilometers per hour"),
        ("20°C", "twenty degrees | twenty degrees celsius"),
        ("1.5M", "one point five million"),
        ("3x", "three times | three x"),
        ("#1", "number one"),
        ("VIII", "eight | the eighth"),
        ("e.g", "e g | for example"),
        ("U.S", "u s"),
        ("FBI's", "f b i's"),
        ("XQJ", "x q j"),
        ("NASA", "nasa"),
        ("US", "us | u s"),
        ("MR", "mister"),
        ("St", "saint | street"),
        ("Prof", "professor"),
    ],
)
def test_what_can_be_meant_in_several_ways_has_them_all(written, said):
    found = [" ".join(words) for words in readings(written)]
    assert [one for one in said.split(" | ") if one not in found] == []


def test_a_sign_or_point_before_a_number_belongs_to_it_and_a_dash_does_not():
    assert [word.bare for word in script_words("-4 “.5” — -well- “-2,” 10-")] == ["-4", ".5", "well", "-2", "10"]


def test_money_by_the_million_is_one_word():
    said = [word.text for word in script_words("A $5 million plum, not $5 plums.")]
    assert said == ["A", "$5 million", "plum,", "not", "$5", "plums."]


def test_every_reading_can_be_told_by_its_sounds():
    meant = wordings("1984")
    assert tuple(meant) == pronunciations("1984")
    assert {len(words) for words in meant.values()} >= {3, 6}
    assert wordings("plums") == dict.fromkeys(pronunciations("plums"), ("plums",))


@pytest.mark.parametrize(
    "written", ["", "—", "½½", "$", "1/0", "0/0", "99:99", "13/13/13", "00:00", "IIII", "°", "a-", "#"]
)
def test_odd_forms_are_no_error(written):
    assert isinstance(spoken_words(written), tuple)
