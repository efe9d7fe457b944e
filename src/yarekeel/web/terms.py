"""The trade's words that a beginner does not know: what each is, and why it matters. The guide shows them, and labels point to them."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Term:
    """A word, the labels that it stands under, what it is, and why it matters."""

    code: str
    word: str
    labels: tuple[str, ...]
    what: str
    why: str


TERMS: tuple[Term, ...] = (
    Term(
        "displacement",
        "Displacement",
        ("Displacement",),
        "What the boat weighs as it floats: the water it pushes aside weighs the same.",
        "Every draft follows from it; a boat that comes out heavy sits low.",
    ),
    Term(
        "draft",
        "Draft",
        ("Draft, bow / stern", "Draft"),
        "How deep a place of the hull lies under the surface, read at a painted mark.",
        "Two drafts tell mass and trim with nothing but a ruler.",
    ),
    Term(
        "freeboard",
        "Freeboard",
        ("Least freeboard", "Freeboard"),
        "From the surface up to the lowest edge that lets water in.",
        "What waves, a wake or a lean must climb before water comes in.",
    ),
    Term(
        "trim",
        "Trim",
        ("Trim",),
        "How far the bow lies up or down, as an angle.",
        "Bow down it digs in; stern down it drags, squats or hops.",
    ),
    Term(
        "heel",
        "Heel",
        ("Heel",),
        "A lean to one side, as an angle.",
        "A lean at rest is a weight off the middle, or a boat that does not stand.",
    ),
    Term(
        "reserve",
        "Reserve buoyancy",
        ("Reserve buoyancy",),
        "What the hull could still carry with its deck just awash.",
        "What is left when it takes a wave or a passenger.",
    ),
    Term(
        "lcg",
        "LCG, TCG, VCG",
        ("LCG", "TCG", "VCG", "LCG, from aft"),
        "Where the centre of gravity lies: from aft, to port, up.",
        "Over the centre of buoyancy the boat floats level; high, it is tippy.",
    ),
    Term(
        "gm",
        "GM",
        ("GM",),
        "From the centre of gravity up to M, about which a hull rolls at small leans. GM = KB + BM − KG.",
        "Large, it is stiff and jerks; small, it is tippy and rolls slowly; less than nothing, it falls over.",
    ),
    Term(
        "kb",
        "KB and BM",
        ("KB", "BM"),
        "KB is the height of the centre of buoyancy, BM how far M lies over it: it grows with the cube of the beam.",
        "Wider is stiffer, much more than lower is.",
    ),
    Term(
        "gz",
        "GZ, the righting arm",
        ("Hardest push back", "Range"),
        "How far apart weight and buoyancy act at a lean; it brings the boat back.",
        "Its greatest says how hard it can be pushed, its range from how far it comes back.",
    ),
    Term(
        "ratio",
        "Thrust to weight",
        ("Thrust to weight",),
        "Pull from rest over what the boat weighs.",
        "A few hundredths move a boat, a quarter makes a model lively, a half and more lets it plane.",
    ),
    Term(
        "hump",
        "Hump",
        ("Hump",),
        "The speed at which a hull meets its own wave and drag is greatest before it planes.",
        "Thrust that does not beat it there never planes, however fast the propeller could be.",
    ),
    Term(
        "band",
        "± and a band",
        (),
        "Half the width within which the true value lies 19 times in 20, from what the figure rests on.",
        "A figure is no surer than the guesses in the list; weigh what it says is guessed.",
    ),
    Term(
        "verdict",
        "Holds, Near, Fails",
        (),
        "Holds: within your brief, band and all. Near: within it by less than its band, or close to trouble. Fails: outside.",
        "What you did not ask is not judged.",
    ),
)  # fmt: skip
BY_LABEL = {label: term for term in TERMS for label in term.labels}


def why(label: str) -> Term | None:
    """The word that a label stands for, if a beginner may not know it."""
    return BY_LABEL.get(label)
