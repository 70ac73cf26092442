import numpy as np

from buccaphon.alignment.acoustic_model import english_model, transform
from buccaphon.alignment.adaptation import estimate_transforms

MODEL = english_model()


def drawn(count: int) -> tuple[np.ndarray, np.ndarray]:
    """Frames drawn from the model itself, and their senones."""
    rng = np.random.default_rng(0)
    senones = rng.choice(np.flatnonzero(MODEL.senone_phone > 1), count).astype(np.int32)
    streams = np.zeros((count, 3, 13), np.float32)
    for t, senone in enumerate(senones):
        phone = MODEL.senone_phone[senone]
        for which in range(3):
            weights = MODEL.mixture[which, senone].astype(float)
            k = rng.choice(128, p=weights / weights.sum())
            spread = np.sqrt(MODEL.variances[phone, which, k])
            streams[t, which] = rng.normal(MODEL.means[phone, which, k], spread)
    return streams, senones


def test_a_bent_voice_is_bent_back():
    """Features pushed off by a known affine map score as well again after the estimated one."""
    streams, senones = drawn(1500)
    bent = streams * np.float32(1.3) + np.float32(1.5)
    everything = np.ones(len(streams), np.bool_)
    transforms = estimate_transforms(MODEL, bent, senones, everything)
    mended = transform(bent, transforms)
    assert np.abs(mended - streams).mean() < 0.5 * np.abs(bent - streams).mean()


def test_too_little_speech_is_left_alone():
    streams, senones = drawn(120)
    speech = np.zeros(120, np.bool_)
    speech[:50] = True
    assert estimate_transforms(MODEL, streams, senones, speech) is None
