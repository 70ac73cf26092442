import pytest

from buccaphon.speech.spelling import spoken_words


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
