//! The words of earthworks, as they are used in help, reports and results.

/// A word, and what it means, with its unit and sign.
pub(crate) const TERMS: [(&str, &str); 54] = [
    (
        "Reference",
        "The surface that is measured from: existing ground, the last survey, or a design.",
    ),
    (
        "Surveyed",
        "The surface that is measured to: the new survey, or a design to be built.",
    ),
    (
        "Difference",
        "Surveyed height less reference height. Positive is fill, negative is cut. In the length unit.",
    ),
    (
        "Cut",
        "Volume where the surveyed surface is lower than the reference. Never negative.",
    ),
    (
        "Fill",
        "Volume where the surveyed surface is higher than the reference. Never negative.",
    ),
    (
        "Net",
        "Fill less cut. Positive: more fill than cut. Negative: more cut than fill.",
    ),
    (
        "Tolerance",
        "Height differences up to this size count as unchanged. Their volume is in no cut or fill.",
    ),
    (
        "Accuracy",
        "How far points of a surface are off, as standard uncertainties: each point by itself, and all of them alike.",
    ),
    (
        "Uncertainty",
        "How sure a volume is: in 95 of 100 cases the true volume is within ± of the figure.",
    ),
    (
        "Guard band",
        "What a difference is uncertain by, on both sides of a limit. Ground within the limits by more is shown to conform.",
    ),
    (
        "In doubt",
        "Ground so near to a limit that the uncertainty decides: it is shown neither to conform nor not to.",
    ),
    (
        "Clearance",
        "How far the built surface must lie below the design everywhere.",
    ),
    (
        "Plan area",
        "Area seen from above, on the grid of the survey.",
    ),
    (
        "Sloping area",
        "Area along the slope of a surface. Never smaller than the plan area.",
    ),
    (
        "Band",
        "Ground whose difference lies between two edges, with the whole volume over it. A depth slice cuts the body instead.",
    ),
    (
        "Spot",
        "A place where the heights of surfaces are read, and their difference.",
    ),
    (
        "Chainage, offset",
        "Distance along a line, and distance from it: to the right positive, to the left negative.",
    ),
    (
        "Section",
        "An upright cut through surfaces, square to a line, from an offset to the left to one to the right.",
    ),
    (
        "End area",
        "Area of cut or of fill in a section. Two of them and the distance give a volume.",
    ),
    (
        "Contour",
        "Line of one height on a surface, or of one difference between two. Each fifth is an index contour.",
    ),
    (
        "Zone",
        "A closed outline, with holes if any, that limits what is measured.",
    ),
    (
        "Plot",
        "A part of an item's zones that is counted in a row of its own.",
    ),
    (
        "Closure",
        "Area of all pieces measured, less the area within the outlines. Should be rounding only.",
    ),
    (
        "Triangle",
        "Smallest part of a surface, a plane between three points.",
    ),
    (
        "Breakline",
        "A line that no triangle crosses: a crest, a toe, a kerb.",
    ),
    (
        "Chord tolerance",
        "Largest distance between a curve and the straight pieces that stand for it.",
    ),
    (
        "Base",
        "Surface under a pile, which nobody surveyed: from its toe, a level, or an earlier survey.",
    ),
    (
        "Toe",
        "The line where a pile meets the ground around it. Of a pit, the rim.",
    ),
    ("Bank", "State of soil or rock as it lies in the ground."),
    (
        "Loose",
        "State of soil or rock once it is dug, as it is hauled or stockpiled.",
    ),
    (
        "Compacted",
        "State of soil or rock once it is placed and rolled.",
    ),
    ("Swell", "Loose volume per bank volume: 1.25, or 25%."),
    (
        "Shrink",
        "Compacted volume per bank volume: 0.9, or 10% for what is lost.",
    ),
    (
        "Surplus",
        "In a balance: material left over once the fill is made. Positive.",
    ),
    (
        "Shortfall",
        "In a balance: material still missing for the fill.",
    ),
    (
        "Shift",
        "Height by which a design is raised. Negative: lowered.",
    ),
    (
        "Depth slice",
        "Part of cut or fill between two depths, measured from the surface down.",
    ),
    (
        "Build-up",
        "Layers under a finished level, from the top down: pavement, subbase, topsoil.",
    ),
    (
        "Layer",
        "One part of a build-up, with a thickness. Its volume is plan area times thickness.",
    ),
    (
        "Spill level",
        "Level at which water runs over the edge of a basin.",
    ),
    (
        "Freeboard",
        "Height between the water level and the spill level.",
    ),
    ("Waterline", "Outline of the water in a basin at a level."),
    (
        "Chainage",
        "Distance along a line, as 1+250.50 (station 12+50.50 in feet). Offsets to the right of the line are positive.",
    ),
    (
        "Typical section",
        "What is built across a line: breaks by offset and height, the same along it or changing by chainage, and side slopes.",
    ),
    (
        "Bench",
        "A step in a high slope: the slope goes on for a height, then the bench for a width.",
    ),
    (
        "Haul",
        "Volume times the distance it is carried, in the volume unit times the length unit.",
    ),
    (
        "Borrow pit",
        "Place outside the works from which fill is taken.",
    ),
    ("Tip", "Place outside the works to which surplus is taken."),
    (
        "Filled again, dug again",
        "Work that was undone: ground that was dug before and filled since, up to the reference, and the other way round.",
    ),
    (
        "Pace",
        "What is done in a work day on average. Work days are those of the job's calendar.",
    ),
    (
        "Claim",
        "What is claimed for payment to date, on a day, for a period. What was claimed before is taken off.",
    ),
    (
        "Record",
        "The frozen copy of an issued claim, with the digests of its inputs, chained to the record before.",
    ),
    (
        "Retention",
        "Share of the gross amount that is kept back until the works are accepted.",
    ),
    (
        "Certificate",
        "What the payer accepts of a claim. What it leaves out is due again in the next claim.",
    ),
];
