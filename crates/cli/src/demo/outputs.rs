//! What the sample job writes besides its inputs, in the order it is made.

/// Each file, and what it is.
pub(super) const OUTPUTS: &[(&str, &str)] = &[
    ("march.dxf", "the surveyed surface, as a drawing"),
    ("march-ground.svg", "a picture of it"),
    ("march.svg", "the map"),
    ("march.html", "the report, to open in a browser or print"),
    ("left-to-place.svg", "the map of what is left to place"),
    ("march-a3.png", "the map on A3 paper, with spot values"),
    (
        "haul-road-spots.dxf",
        "the spots along the haul road, as a drawing",
    ),
    ("haul-road-spots.csv", "the same, for a spreadsheet"),
    (
        "bank-sections.csv",
        "the sections of the bank, for a spreadsheet",
    ),
    (
        "bank-sections-1.svg",
        "the sections on sheets, and four more such files",
    ),
    ("bank-sections.html", "all sheets and tables as a page"),
    ("bank-sections.dxf", "the same, as a drawing"),
    ("profile.svg", "the profile through bank and pit"),
    ("haul.svg", "the map of the haul"),
    ("march-contours.dxf", "the contours, as a drawing"),
    ("march-contours.svg", "a map of them"),
    ("haul-road.svg", "a picture of the haul road's formation"),
    (
        "haul-road-formation.xml",
        "the formation, for setting out (LandXML)",
    ),
    (
        "road-out-of-tolerance.geojson",
        "outlines of the formation beyond its tolerances",
    ),
    (
        "road-conformity.svg",
        "the map of the formation's conformity",
    ),
    (
        "road-conformity.html",
        "the same with its tables, as a page",
    ),
    ("compound-balance.svg", "the curve of the balance"),
    ("yard.svg", "the map of the piles"),
    ("piles.csv", "the piles, for a spreadsheet"),
    ("piles.html", "the piles as a page, to send or print"),
    ("piles-found.geojson", "the outlines of the piles found"),
    ("piles-found.svg", "a map of the piles found"),
    (
        "lagoon-water.geojson",
        "the waterline of the lagoon at level 25",
    ),
    (
        "lagoon.csv",
        "the volume of the lagoon by level, for a spreadsheet",
    ),
    ("lagoon.svg", "the volume curve of the lagoon"),
    ("pit.svg", "the volume curve of the pit"),
    (
        "untouched-found.geojson",
        "ground that may be untouched between March and April",
    ),
    ("april.html", "the check of the April survey, as a page"),
    (
        "channel-sections-1.svg",
        "the sections of the channel, and one more such file",
    ),
    ("bill.csv", "the bill, for a spreadsheet"),
    ("bill.html", "the bill as a page, to send or print"),
    ("progress.csv", "the progress of the pit, for a spreadsheet"),
    ("progress.html", "the same with curve and maps, as a page"),
    (
        "claims/claim-001.json",
        "the record of the first claim, and two more such files",
    ),
    (
        "claim-1.html",
        "the first claim as a page, to send or print",
    ),
    ("claim-2.html", "the second"),
    ("claim-3.html", "the third"),
];
