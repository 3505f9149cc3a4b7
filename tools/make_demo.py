"""Write the demo docket beside its photos."""

import json
from pathlib import Path

from aptandum.core.docket.model import Docket
from aptandum.core.docket.store import save
from aptandum.core.fitting.settings import Settings
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.core.rulebook.toml import read_rulebook

DEMO = Path(__file__).resolve().parent.parent / "src/aptandum/data/demo"
FITTINGS = (
    ("ines_marrow_0417.jpg", "vessary-ferries/deck-pass", {"frame.window": "760, 500, 3060, 4080"}),
    ("lantern_quay_dusk.jpg", "orrin-moor/night-round", {}),
    ("blue_jug_03.jpg", "quayside-exchange/item-picture", {}),
    ("night_moor_stack.jpg", "orrin-moor/night-round", {}),
    ("lantern_quay_dusk.jpg", "quayside-exchange/shop-header", {}),
    ("tobin_oar_0212.jpg", "vessary-ferries/deck-pass", {}),
    ("mirelle_dace_0031.jpg", "vessary-ferries/deck-pass", {}),
    ("osk_fennel_0508.jpg", "vessary-ferries/deck-pass", {}),
    ("quill_harrow_0119.jpg", "keepers-hall/plaque", {}),
    (
        "blue_jug_03.jpg",
        "lantern-channel/corner-badge",
        {"frame.fill": "pad", "finish.clear.by": "standing"},
    ),
    (
        "tobin_oar_0212.jpg",
        "windhover-kites/two-sail-kite",
        {
            "frame.window": "300, 300, 1800, 1519",
            "finish.panels.fills": json.dumps(
                [
                    {"panel": "left sail", "kind": "texture", "source": "ripstop"},
                    {
                        "panel": "right sail",
                        "kind": "photo",
                        "source": str(DEMO / "lantern_quay_dusk.jpg"),
                        "window": [1200, 300, 2000, 2400],
                    },
                    {
                        "panel": "keel",
                        "kind": "photo",
                        "source": str(DEMO / "blue_jug_03.jpg"),
                        "free": True,
                        "colour": "#C9A227",
                    },
                ]
            ),
        },
    ),
    (
        "lantern_quay_dusk.jpg",
        "pocketvane/bezel-panel",
        {
            "frame.window": "1500, 900, 2400, 519",
            "finish.caption.text": "Last boat 21:40",
            "finish.caption.size": "30",
            "finish.caption.behind": "outline",
            "finish.caption.anchor": "left",
        },
    ),
)
# The demo docket was begun under an older edition, so that there is something to take over.
OLDER = {"quayside-exchange": read_rulebook(DEMO / "quayside-exchange-10.toml")}


def main() -> None:
    docket, shelf = Docket(title="Vessary autumn intake"), read_shelf()
    for name, brief, changes in FITTINGS:
        docket, photo = docket.with_photo(str(DEMO / name))
        docket, fitting = docket.with_fitting(photo, brief)
        made = docket.fitting(fitting).model_copy(update={"settings": Settings().having(changes)})
        docket = docket.replacing(made)
        book = OLDER.get(brief.split("/")[0]) or shelf.find(brief)[0]
        docket = docket.model_copy(
            update={"rulebooks": {**docket.rulebooks, book.body.id: book.text}}
        )
    save(docket, DEMO / "vessary.docket")


if __name__ == "__main__":
    main()
