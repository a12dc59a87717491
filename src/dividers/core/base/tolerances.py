"""Every tolerance of the engine in one place, each with its reason. Lengths in mm, angles in radians, areas in mm²."""

# Coordinates come out of clipping with noise of about 1e-10 mm on a 10 m wall. Two lines closer than this are one line:
# it is a thousandth of a pencil line, and ten thousand times the noise.
SAME_LINE_MM = 1e-3

# Directions of edges longer than SHORTEST_EDGE_MM carry noise below 1e-7 rad; over 10 m this angle moves a point 0.01 mm.
SAME_DIRECTION_RAD = 1e-6

# An edge shorter than this is an artefact of clipping: nobody can tape it, and its direction is noise.
SHORTEST_EDGE_MM = 1e-3

# Two points of a line nearer than this are one point (as SAME_LINE_MM).
SAME_POINT_MM = 1e-3

# A strip that comes so near to its line lies along it: edges taken for one line lie beside it by SAME_LINE_MM and what SAME_DIRECTION_RAD
# makes of it over the length of a wall; what a cut leaves of the strip begins at the edge and not at the line.
REACHES_LINE_MM = 2e-2

# Points are distinguished on a grid of this size, laid a little askew: even figures, which are common, then lie well inside a square
# and never on its edge, where float noise would decide.
POINT_GRID_MM = 2e-3
GRID_SKEW = 0.137

# A cell smaller than this is an artefact of clipping and is dropped; far below the 0.5 mm² that checks allow.
SMALLEST_CELL_MM2 = 1e-2

# Polygons that overlap by less than this only touch: along a 4 m edge that is 0.4 mm², within the 0.5 mm² that checks allow.
TOUCHING_MM = 1e-4

# Marks are rounded from a grid of so many to the mm, so that an exact half graduation stays one in spite of float noise.
MARKS_A_MM = 1_000_000

# A narrower cell can't be taped or painted by hand: it is named in a warning (common practice, no source).
SLIVER_MM = 3.0

# Nobody can tape or strike a shorter line: what lies along one is left to the strips beside it (common practice, no source).
SHORTEST_LINE_MM = 1.0

# Of a strip, or of a fold where parts meet that shouldn't, a shorter stretch is left out: nobody can lay it (common practice, no source).
SHORTEST_PART_MM = 5.0

# Nobody lays a shorter strip: an edge that short gets a strip that runs on past it, where there is room, else it is left to the brush
# (common practice, no source).
SHORTEST_STRIP_MM = 3.0
BIT_MM = 5.0  # the strip that an edge gets that is shorter than that: a bit laid by eye between what lies beside it

# A part thinner than this, a pencil line, can be neither taped nor painted: it belongs to the part beside it (common practice, no source).
THINNEST_MM = 0.5

# Polygon overlays snap to this grid. Without one, edges that coincide but for float noise can give plainly wrong results
# (met: an intersection of 83,000 mm² where the polygons only touch).
OVERLAY_GRID_MM = 1e-6
GRID_DIGITS = 6  # the same grid in decimal places, for points that are to lie on it from the start
