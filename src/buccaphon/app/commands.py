"""Everything that can be done, as data: what it is called, which key does it, and where it is listed."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Command:
    """keys: shortcuts in Qt's portable spelling, the first is shown. run: the window's method of that name."""

    id: str
    group: str
    label: str
    keys: tuple[str, ...]
    run: str


COMMANDS = (
    Command("open", "File", "Open a recording or project…", ("Ctrl+O",), "ask_and_open"),
    Command("open-demo", "File", "Open the demo", ("Ctrl+D",), "open_demo"),
    Command("open-demo-line", "File", "Open the demo's Spanish line", ("Ctrl+Shift+D",), "open_demo_line"),
    Command("save", "File", "Save", ("Ctrl+S",), "save"),
    Command("save-as", "File", "Save under another name…", ("Ctrl+Shift+S",), "save_as"),
    Command("export", "File", "Export into a folder…", ("Ctrl+E",), "export"),
    Command("quit", "File", "Close the window", ("Ctrl+Q",), "close"),
    Command("versions", "File", "Earlier versions…", (), "show_versions"),
    Command("undo", "Edit", "Undo", ("Ctrl+Z",), "undo"),
    Command("redo", "Edit", "Redo", ("Ctrl+Shift+Z", "Ctrl+Y"), "redo"),
    Command("history", "Edit", "History: go to any step…", ("Ctrl+H",), "show_history"),
    Command("find", "Edit", "Find a word, sound, mouth, frame or timecode…", ("Ctrl+F",), "find"),
    Command("find-next", "Edit", "To the next of what was found", ("B",), "find_next"),
    Command("find-previous", "Edit", "To the one of them before", ("Shift+B",), "find_previous"),
    Command("palette", "Edit", "What can be done, with its key…", ("Ctrl+K",), "show_palette"),
    Command("align", "Edit", "Align the script", ("Ctrl+R",), "align"),
    Command("align-changes", "Edit", "Align only what changed", ("Ctrl+Shift+R",), "align_changes"),
    Command("words", "File", "Bring in words…", ("Ctrl+Shift+O",), "ask_for_words"),
    Command("recognise", "Edit", "Recognise the sounds without a script", ("Ctrl+Alt+R",), "recognise"),
    Command("pronounce", "Edit", "How the word here is said", ("H",), "show_pronunciation"),
    Command("lexicon-out", "File", "Write the lexicon to a text file…", (), "write_lexicon"),
    Command(
        "not-speech", "Edit", "Mark what is on the ruler as not speech, or as speech again", ("N",), "mark_not_speech"
    ),
    Command("give-back", "Edit", "Give the mouth back to the machine", ("Delete",), "give_back"),
    Command("cut", "Select", "Cut what is selected", ("Ctrl+X",), "cut"),
    Command("copy", "Select", "Copy what is selected, or the mouths of what is marked", ("Ctrl+C",), "copy"),
    Command("paste", "Select", "Paste at the playhead", ("Ctrl+V",), "paste"),
    Command("select-word", "Select", "The word here; again, the next one too", ("G",), "select_word"),
    Command("select-mouth", "Select", "The mouth here; again, the next one too", ("J",), "select_mouth"),
    Command("select-same", "Select", "All of the mouth here", ("Shift+J",), "select_same_mouths"),
    Command("select-speaker", "Select", "All that the speaker here says", ("Shift+G",), "select_speaker"),
    Command("select-doubts", "Select", "All words in doubt", ("Ctrl+Shift+G",), "select_doubts"),
    Command("select-all", "Select", "All words, or all mouths", ("Ctrl+A",), "select_all"),
    Command("hold-longer", "Mend", "Hold the mouth here a frame longer", ("X",), "hold_longer"),
    Command("anticipate", "Mend", "The mouth here comes a frame earlier", ("A",), "anticipate"),
    Command("fill", "Mend", "Fill what is marked with the mouth here", ("F",), "fill_marked"),
    Command("retype", "Mend", "Retype the word here; several split it, none takes it out", ("R",), "retype_word"),
    Command("retype-sound", "Mend", "Type over the sound here", ("Shift+R",), "retype_sound"),
    Command("note", "Mend", "Write a note here, or at what is marked", ("Shift+N",), "write_note"),
    Command("nudge-frame-back", "Mend", "The nearest boundary a frame earlier", (",",), "nudge_frame_back"),
    Command("nudge-frame-on", "Mend", "The nearest boundary a frame later", (".",), "nudge_frame_on"),
    Command("nudge-back", "Mend", "The nearest boundary 10 ms earlier", ("Ctrl+,",), "nudge_back"),
    Command("nudge-on", "Mend", "The nearest boundary 10 ms later", ("Ctrl+.",), "nudge_on"),
    Command("nudge-fine-back", "Mend", "The nearest boundary 1 ms earlier", ("Alt+,",), "nudge_fine_back"),
    Command("nudge-fine-on", "Mend", "The nearest boundary 1 ms later", ("Alt+.",), "nudge_fine_on"),
    Command("place-boundary", "Mend", "Type where the nearest boundary lies", ("=",), "place_boundary"),
    Command("release", "Mend", "Release the pins of the word, or of what is marked", ("Shift+Delete",), "release_pins"),
    Command("play", "Hear", "Play or stop", ("Space",), "play_or_stop"),
    Command("loop", "Hear", "Loop", ("L",), "toggle_loop"),
    Command("mark", "Hear", "Mark what is selected, or the word here, on the ruler", ("K",), "mark_selection"),
    Command(
        "play-selection",
        "Hear",
        "Play what is selected, or the word here",
        ("Shift+Space",),
        "play_selection",
    ),
    Command("speed", "Hear", "Next speed: 25, 50, 75, 100 %", ("S",), "next_speed"),
    Command("pre-roll", "Hear", "Next pre-roll of the loop: 0, 0.25, 0.5, 1 s", ("Shift+L",), "next_pre_roll"),
    Command("frame-on", "Hear", "One frame on, and hear it", ("Right",), "frame_on"),
    Command("frame-back", "Hear", "One frame back, and hear it", ("Left",), "frame_back"),
    Command("frame-on-pair", "Hear", "One frame on, with its neighbour", ("Shift+Right",), "frame_on_pair"),
    Command("frame-back-pair", "Hear", "One frame back, with its neighbour", ("Shift+Left",), "frame_back_pair"),
    Command("next-word", "Hear", "To the next word", ("Ctrl+Right",), "next_word"),
    Command("previous-word", "Hear", "To the word before", ("Ctrl+Left",), "previous_word"),
    Command("next-doubt", "Hear", "To the next doubt, and hear it", ("D",), "next_doubt"),
    Command("previous-doubt", "Hear", "To the doubt before, and hear it", ("Shift+D",), "previous_doubt"),
    Command("to-start", "Hear", "To the start", ("Home",), "to_start"),
    Command("to-end", "Hear", "To the end", ("End",), "to_end"),
    Command("wider", "Look", "Wider: fewer seconds in a strip", ("Ctrl++", "Ctrl+="), "wider"),
    Command("narrower", "Look", "Narrower: more seconds in a strip", ("Ctrl+-",), "narrower"),
    Command("zoom-to", "Look", "What is marked on the ruler fills the page", ("Z",), "zoom_to_selection"),
    Command("magnify", "Look", "Magnify the wave", ("Ctrl+Up",), "magnify"),
    Command("diminish", "Look", "Diminish the wave", ("Ctrl+Down",), "diminish"),
    Command("taller", "Look", "A taller sound lane", ("Ctrl+Shift+Up",), "taller_sound"),
    Command("lower", "Look", "A lower sound lane", ("Ctrl+Shift+Down",), "lower_sound"),
    Command("spectrum", "Look", "Spectrogram on or off", ("Ctrl+G",), "toggle_spectrum"),
    Command("loudness", "Look", "Loudness over the wave on or off", ("Ctrl+L",), "toggle_loudness"),
    Command("ink", "Look", "Another ink for the wave", ("Ctrl+I",), "next_ink"),
    Command("wrap", "Look", "Page of strips or one endless strip", ("Ctrl+W",), "toggle_wrap"),
    Command("notation", "Look", "Sounds in IPA, in ARPAbet, or as names of mouths", ("Y",), "next_notation"),
    Command("night", "Look", "Paper, or the night theme", ("Ctrl+T",), "toggle_night"),
    Command("larger", "Look", "A larger interface", ("Ctrl+Alt++",), "larger"),
    Command("smaller", "Look", "A smaller interface", ("Ctrl+Alt+-",), "smaller"),
    Command("reading", "Look", "Frames, timecode, feet, seconds", ("T",), "next_reading"),
    Command("actor", "Look", "The actor's picture beside the face, instead of it, or not", ("M",), "toggle_actor"),
    Command("step-take", "Look", "Take", ("F1",), "show_take"),
    Command("step-script", "Look", "Script", ("F2",), "show_script"),
    Command("step-mouths", "Look", "Mouths", ("F3",), "show_mouths"),
    Command("step-export", "Look", "Export", ("F4",), "show_export"),
    Command("stop-work", "Look", "Cancel what is under way, or let go of the selection", ("Esc",), "let_go"),
    Command("change-key", "Keys", "Change a key…", ("Ctrl+Alt+K",), "change_key"),
    Command("usual-keys", "Keys", "All keys as they came", (), "usual_keys"),
    Command("save-keys", "Keys", "Save the set of keys…", (), "save_keys"),
    Command("load-keys", "Keys", "Load a set of keys…", (), "load_keys"),
    Command("key-sheet", "Keys", "Write the sheet of keys as PDF…", (), "write_key_sheet"),
)
