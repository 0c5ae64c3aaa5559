"""What the trade decides, on top of the solved circuit; in the order of the work.

- Survey: `survey`, `unknowns`, `inherited`, `bank`, `sums`.
- Match: `match`, `isolation`, `ruler`, `sources`, `energy`, `space`, `link`, `socket`; `lay`, `rank` and `cost` for a shelf.
- Run: `cables`, `branches`, `size_ladder`; `protect` for the devices; `buying` for cuts, parts and labels.
- Wake: `thresholds`, `activate`, `lockout`, `ways`, `wake_figures`; `method` for the advice, `old_link` for what was there before.
- Settings: `profile`.
- Besides: `compare` for variants.
"""
