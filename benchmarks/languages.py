"""Other languages than English, said by eSpeak NG with the time of every sound.

Stops are left out of account: it dates them where they burst, the aligner where the mouth shuts. The speech net heard
invented sentences in the first eight of these languages, and nothing in the others.
"""

import difflib
import os

import numpy as np

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from tools.voices import RATE, ESpeak, Spoken

from benchmarks.report import bar
from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.recording import Recording
from buccaphon.speech.languages import find_language
from buccaphon.speech.phones import PhoneClass, arpabet_of, class_of
from buccaphon.speech.script import script_words

_VARIANT, _WORDS_A_MINUTE, _PITCH = "m1", 150, 50
_STOPS = (PhoneClass.STOP, PhoneClass.AFFRICATE)
SAID = {
    "es": ("Marigold vende ciruelas, manzanas y peras maduras en el mercado.", "El perro rojo corre detrás del carro."),
    "it": ("Oggi vendiamo prugne dolci, mele rosse e pere mature.", "Gli gnocchi della nonna sono sempre i migliori."),
    "de": (
        "Heute verkaufen wir süße Pflaumen und reife Birnen.",
        "Zwölf graue Katzen schlafen hinter dem großen Ofen.",
    ),
    "fr-fr": ("Aujourd'hui nous vendons des prunes et des pommes rouges.", "La lune brillait sur la vallée."),
    "cs": ("Dnes prodáváme sladké švestky a zralé hrušky na trhu.", "Třicet tři stříbrných stříkaček stříkalo."),
    "fi": ("Tänään myymme makeita luumuja ja kypsiä päärynöitä.", "Kaksi harmaata kissaa nukkuu uunin takana."),
    "pl": ("Dzisiaj sprzedajemy słodkie śliwki i dojrzałe gruszki.", "Trzydzieści trzy szare koty śpią za piecem."),
    "sv": (
        "Idag säljer vi söta plommon och mogna päron på torget.",
        "Vem tog den lilla nyckeln från köket i går kväll?",
    ),
    "hu": ("Ma édes szilvát, piros almát és érett körtét árulunk.", "Két szürke macska alszik a nagy kemence mögött."),
    "el": ("Σήμερα πουλάμε γλυκά δαμάσκηνα και κόκκινα μήλα.", "Δύο γκρίζες γάτες κοιμούνται πίσω από τον φούρνο."),
    "ro": ("Astăzi vindem prune dulci, mere roșii și pere coapte.", "Două pisici cenușii dorm în spatele cuptorului."),
    "hr": ("Danas prodajemo slatke šljive, crvene jabuke i kruške.", "Dvije sive mačke spavaju iza velike peći."),
    "ca": ("Avui venem prunes dolces, pomes vermelles i peres.", "Dos gats grisos dormen darrere del forn gran."),
    "hi": ("आज हम बाज़ार में मीठे आलूबुखारे और लाल सेब बेच रहे हैं।", "दो भूरी बिल्लियाँ बड़े चूल्हे के पीछे सो रही हैं।"),
}


def run() -> None:
    speaker = ESpeak()  # says all before the aligner, which reads by the same library, takes it over
    spoken = {code: [_said(speaker, code, text) for text in sentences] for code, sentences in SAID.items()}
    everything = []
    for code, sentences in SAID.items():
        errors = np.concatenate([_errors(code, *each) for each in zip(sentences, spoken[code], strict=True)])
        print(f"# {code:6}{len(errors):4} sounds, mean {1000 * np.abs(errors).mean():5.1f} ms,", end=" ")
        print(f"within a frame {(np.abs(errors) < 0.0417).mean():.3f}")
        everything.append(errors)
    errors = np.abs(np.concatenate(everything))
    bar("languages.mean_error", 1000 * errors.mean(), "ms", 15)
    bar("languages.within_frame", float((errors < 0.0417).mean()), "share", 0.92, at_least=True)


def _said(speaker: ESpeak, code: str, text: str) -> Spoken:
    return speaker.say(find_language(code).voice, _VARIANT, text, _WORDS_A_MINUTE, _PITCH)


def _errors(code: str, text: str, spoken: Spoken) -> np.ndarray:
    """Seconds by which the onsets of the sounds that both name are late; stops left out."""
    recording = Recording(spoken.samples[:, None].astype(np.float32), RATE, code)
    found = list(align(AlignmentRequest(recording, script_words(text), language=code)).phones())
    names = [arpabet_of(phone.symbol) for phone in found], [name for name, _ in spoken.sounds]
    blocks = difflib.SequenceMatcher(None, *names, autojunk=False).get_matching_blocks()
    pairs = [(found[i + k], spoken.sounds[j + k][1]) for i, j, count in blocks for k in range(count)]
    return np.array([phone.start - truth for phone, truth in pairs if class_of(phone.symbol) not in _STOPS])
