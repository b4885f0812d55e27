"""What the route of a ring that is resized knows beside every ring's: the names that its tables ask for."""

from __future__ import annotations

from dataclasses import dataclass

from ringcraft.routes.facts import StyleFacts
from ringcraft.units import Length


@dataclass(frozen=True, kw_only=True)
class ResizeFacts(StyleFacts):
    """What the route of a ring that is resized knows beside every ring's."""

    unknown_metal: bool
    tested_words: str
    thinnest: Length
    thinnest_said: bool
    thinnest_not_said: bool
    engraved: bool
    now: str
    now_gauge: str
    unset_words: str
    unsets: bool
    out_ids: tuple[str, ...]
    loose_ids: tuple[str, ...]
    has_loose: bool
    loose_words: str
    off_ids: tuple[str, ...]
    ungluing: bool
    off_words: str
    set_ids: tuple[str, ...]
    sets_first: bool
    set_words: str
    last_ids: tuple[str, ...]
    sets_last: bool
    last_words: str
    blow_arc: tuple[float, float] | None
    round_by: str
    by_hand: bool
    by_blows: bool
    clear_words: str
    round_by_after: str
    by_hand_after: bool
    by_blows_after: bool
    clear_words_after: str
    seam_open: bool
    mark_outside: Length
    mark_inside: Length
    take_out: Length
    offcut: Length
    where: str
    cutter_words: str
    has_cutter: bool
    takes_piece: bool
    opens_once: bool
    cuts_mm: float
    through: str
    piece_mm: float
    close_strain: float
    closed_radius: float
    opened_radius: float
    bends_kept: bool
    keep_words: str
    one_cut: bool
    beside_seam: bool
    half_outside: Length
    is_set: bool
    look_words: str
    reshanks: bool
    keep: Length
    keep_outside: Length
    lower_mm: float
    files_faces: bool
    faces: Length
    faces_mm: float
    adds: bool
    gap: Length
    hand_words: str
    gap_inside: Length
    kept_outside: Length
    presses_size: bool
    bent_insert: bool
    straight_insert: bool
    straight_thick: Length
    straight_inside: Length
    straight_outside: Length
    insert_deg: float
    extra_mm3: float
    end_angle: str
    insert: Length
    insert_outside: Length
    insert_inside: Length
    part_mm: float
    saws_seams: bool
    seams_whole: bool
    seams_title: str
    seams_how: str
    seam_mm: float
    seam_passes: int
    guards: bool
    guards_seams: bool
    guards_again: bool
    guards_seams_again: bool
    coats: bool
    coat_ids: tuple[str, ...]
    coat_words: str
    water_words: str
    seam_words: str
    unlisted_words: str
    again_words: str
    again_title: str
    glaze: str
    anti_flux: str
    has_wet: bool
    hollow: bool
    wet_ids: tuple[str, ...]
    water_share: float
    uncoats: bool
    unglazes: bool
    unglaze_words: str
    unglaze_ids: tuple[str, ...]
    hold_words: str
    quench_words: str
    sizing_cool: str
    pickles_whole: bool
    pickles_part: bool
    pickles_brushed: bool
    pickle_dips: str
    dry_words: str
    together: bool
    one_by_one: bool
    besides: str
    besides_mm: float
    crack_words: str
    pattern: bool
    has_offcut: bool
    third: Length
    bleed: Length
    holds: str
    check_title: str
    has_stones: bool
    head_only: bool
    head_words: str
    lies_words: str
    block_words: str
    kiss_words: str
    plates: bool
    plates_bath: bool
    plates_pen: bool
    plate_dips: str
    plate_words: str
    wash_how: str
    washes_soft: bool
    washes_any: bool
    no_bath_words: str
    to_gauge: str
    seam_closed: bool
    anneals_first: bool
    refuse_words: str
    instead_words: str
    stop_words: str
    saw_mm: float
    saw_passes: int
    saw_times: str
    sawn_joint: bool
    untouched_joint: bool
    file_mm: float
    file_passes: int
    file_times: str
    filed_joint: bool
