"""What names of drawings claim, and the table that is made of a whole list of them."""

import pytest

from buccaphon.kits.names.reasons import BY_HAND, in_words
from buccaphon.kits.own.claims import read_claims
from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.kits.own.entries import Entry
from buccaphon.kits.own.looks import LIPS, LOOKS, OPEN_SOUNDS, VOWELS, apart
from buccaphon.kits.own.sorting import sort_drawings
from buccaphon.kits.own.table import NOTHING, table_of
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.speech.phones import SOUNDS

# A list of drawings, what rests, and sounds with the drawing that shows them.
LISTS = {
    "two": ("zu auf_offen", "zu", "ɑ=auf_offen u=auf_offen p=zu f=zu s=auf_offen"),
    "three": ("closed half open", "closed", "ɑ=open ə=half u=half m=closed"),
    "nine letters and no rest": (
        "u w o ai r lth tds mbp e", "mbp", "ɑ=ai i=e u=u w=w oʊ=o ɹ=r θ=lth l=lth t=tds s=tds b=mbp ə=e ʊ=u"
    ),
    "thirteen": (
        "A E I O U L R S W MBP FV TH rest", "rest", "æ=A ɛ=E i=I ɔ=O u=U w=W ɹ=R f=FV θ=TH t=TH z=S p=MBP ʌ=A ə=E"
    ),
    "numbered": ("01_AI 02_E 03_O 04_U 05_MBP 06_FV 07_L 08_rest", "08_rest", "aɪ=01_AI ɛ=02_E w=04_U v=06_FV m=05_MBP"),
    "drawn-out sounds": ("Ahh Eee Ooh Oh Mmm Fff Sss closed", "closed", "ɑ=Ahh i=Eee u=Ooh oʊ=Oh m=Mmm f=Fff s=Sss"),
    "German": (
        "Mund_geschlossen Mund_weit_offen Mund_halb_offen Mund_spitz Mund_breit Mund_Zähne Mund_Zunge", "Mund_geschlossen",
        "ɑ=Mund_weit_offen ə=Mund_halb_offen u=Mund_spitz i=Mund_breit s=Mund_Zähne l=Mund_Zunge p=Mund_geschlossen",
    ),
    "Polish": (
        "usta_zamknięte usta_otwarte usta_okrągłe usta_szerokie język zęby usta_półotwarte", "usta_zamknięte",
        "ɑ=usta_otwarte ə=usta_półotwarte u=usta_okrągłe i=usta_szerokie l=język s=zęby",
    ),
    "French": ("ferme ouvert rond large dents langue", "ferme", "ɑ=ouvert oʊ=rond i=large s=dents l=langue b=ferme"),
    "how far open": (
        "lips_closed open_small open_medium open_large rounded tongue_up", "lips_closed",
        "ɑ=open_large ə=open_medium k=open_small oʊ=rounded l=tongue_up",
    ),
    "kana": ("あ い う え お ん", "ん", "ɑ=あ i=い u=う ɛ=え oʊ=お m=ん"),
    "ARPAbet": ("AA IY UW AO EH M F TH S W SIL", "SIL", "ɑ=AA i=IY u=UW ɔ=AO ɛ=EH b=M v=F ð=TH z=S w=W"),
    "visemes": (
        " ".join(f"viseme_{n:02d}_m" for n in range(15)), "viseme_00_m", "p=viseme_01_m f=viseme_02_m ɑ=viseme_10_m"
    ),
}  # fmt: skip


def table(text, **more):
    found = sort_drawings([Entry(name) for name in text.split()])
    return table_of(list(found.drawings.values()), **more)


@pytest.mark.parametrize("which", LISTS)
def test_each_sound_and_silence_has_the_drawing_that_its_name_says(which):
    names, rest, expected = LISTS[which]
    found = table(names)
    assert found.rest.name == rest
    assert {pair: found.answers[pair.split("=")[0]].name for pair in expected.split()} == {
        pair: pair.split("=")[1] for pair in expected.split()
    }


@pytest.mark.parametrize("which", LISTS)
def test_no_vowel_has_shut_lips_and_lips_shut_where_any_drawing_has_them_so(which):
    found = table(LISTS[which][0])
    shut = {row.name for row in found.mouths if row.shut}
    assert found.answers.keys() == SOUNDS.keys() == LOOKS.keys()
    assert not shut & {found.answers[sound].name for sound in VOWELS}
    assert {found.answers[sound].name for sound in LIPS} <= shut
    assert found.rest.name in shut


@pytest.mark.parametrize("which", LISTS)
def test_every_mouth_of_every_shipped_chart_has_a_drawing_and_contacts_meet(which):
    found = table(LISTS[which][0])
    shut = {row.name for row in found.mouths if row.shut or row.bites}
    for chart in shipped_charts().values():
        shown = found.for_chart(chart)
        assert list(shown) == list(chart.names)
        assert shown[chart.rest.name].name == found.rest.name
        for mouth in chart.mouths:
            if mouth is not chart.rest and mouth.sounds:
                assert (shown[mouth.name].name in shut) == mouth.contact, mouth.name


def test_moods_views_and_versions_of_one_mouth_leave_the_plain_one():
    for names, out in (
        ("A E O MBP rest A_sad E_sad O_sad MBP_sad rest_sad", "A_sad E_sad O_sad MBP_sad rest_sad"),
        ("front_ah front_ee front_oh side_ah side_ee side_oh", "side_ah side_ee side_oh"),
        ("A_v1 A_v2 E_v2 MBP_v1 MBP_v2", "A_v1 MBP_v1"),
        ("mouth_a mouth_o mouth_mbp mouth_frown", "mouth_frown"),
    ):
        rows = read_claims(names.split())
        assert {row.name for row in rows if row.role is Role.OTHER_WAY} == set(out.split())


def test_what_is_no_mouth_stays_out():
    rows = read_claims(["A", "E", "O", "MBP", "nina_face", "eyes", "guide", "hair", "Background"])
    roles = {row.name: row.role for row in rows}
    assert [roles[name] for name in ("A", "E", "O", "MBP")] == [Role.MOUTH] * 4
    assert roles["guide"] is Role.GUIDE
    assert roles["nina_face"] is roles["Background"] is Role.FACE
    assert roles["hair"] is Role.OVER
    assert roles["eyes"] is Role.UNUSED


def test_silence_is_what_somebody_chose_or_nothing_at_all():
    drawings = [OwnDrawing(name) for name in ("A", "O", "MBP", "rest")]
    assert table_of(drawings, "O").rest == table_of(drawings, "O").answer("")
    assert (table_of(drawings, "O").rest.name, table_of(drawings, "O").rest.why) == ("O", BY_HAND)
    assert table_of(drawings, NOTHING).rest.name == NOTHING
    assert table_of(drawings, "gone").rest.name == "rest"


def test_where_the_face_has_a_mouth_of_its_own_shut_lips_show_nothing():
    vowels = [OwnDrawing(name) for name in "aeiou"]
    bare = table_of(vowels, may_show_nothing=True)
    assert {bare.rest.name, *(bare.answers[sound].name for sound in "pbmfv")} == {NOTHING}
    assert all(bare.answers[sound].name for sound in OPEN_SOUNDS)
    without = table_of(vowels)
    assert without.rest.name in "iu"
    assert not without.rest.sure, "to be told before anything is written"


def test_what_is_not_named_for_a_sound_says_why_and_what_is_far_is_not_sure():
    found = table("closed open")
    assert found.answers["p"].sure
    assert found.answers["ɑ"].sure
    assert not found.answers["u"].sure
    assert "u" in in_words(found.answers["u"].why)


def test_the_looks_of_sounds_are_told_apart():
    assert apart(LOOKS["p"], LOOKS["b"]) == 0
    assert apart(LOOKS["ɑ"], LOOKS["p"]) > apart(LOOKS["ɑ"], LOOKS["æ"])
