// The keys of parts, their shapes and features, as field_lists.cpp has those of the rest.
#include "core/model/field_lister.hpp"

namespace anvil::model {

void list(FieldLister& v, PathPiece& p) {
  v("line", p.line, "End point of a straight piece.", Kind::length);
  v("arc", p.arc, "End point of an arc.", Kind::length);
  v("center", p.center, "Centre of the arc.", Kind::length);
  v("turn", p.turn, "Sense of the arc along the path.", Choice{{"left", "right"}});
  v("fillet", p.fillet, "Radius that rounds the corner at this piece's end.", Kind::length);
  v("name", p.name, "Name of the edge.");
  v("count", p.count, "Elements along this piece.", Kind::number);
}
void list(FieldLister& v, Rectangle& r) {
  v("at", r.at, "Lower left corner.", Kind::length);
  v("size", r.size, "Width and height.", Kind::length);
}
void list(FieldLister& v, Ring& r) {
  v("center", r.center, "Centre of the ring sector.", Kind::length);
  v("inner", r.inner, "Inner radius.", Kind::length);
  v("outer", r.outer, "Outer radius.", Kind::length);
  v("from", r.from, "Start angle, anticlockwise from the first axis.", Kind::angle);
  v("to", r.to, "End angle.", Kind::angle);
}
void list(FieldLister& v, Disc& d) {
  v("center", d.center, "Centre of the disc.", Kind::length);
  v("radius", d.radius, "Its radius; the edge is called rim.", Kind::length);
  v("sector", d.sector, "The whole disc, its half at x >= 0, or its quarter at x, y >= 0.", Choice{{"full", "half", "quarter"}});
}
void list(FieldLister& v, Profile& p) {
  v("start", p.start, "First point of the path.", Kind::length);
  v("path", p.path, "Lines and arcs, with the material on the left. A deformable part's path closes by itself.");
  v("sides", p.sides, "Names of the edges that make each of the block's four sides, in path order.");
}
void list(FieldLister& v, Facets& f) {
  v("points", f.points, "Corner points [x, y, z].", Kind::length);
  v("triangles", f.triangles, "Numbers of three points each, counted from 0, anticlockwise seen from outside.");
  v("crease", f.crease, "Edges where facets turn by more than this stay sharp; over the others the normal is smoothed.",
    Kind::angle);
}
void list(FieldLister& v, Division& d) {
  v("size", d.size, "Element size.", Kind::length);
  v("count", d.count, "Elements along the first and second direction.", Kind::number);
  v("grading", d.grading, "Length of the last element over the first, per direction.", Kind::number);
}
void list(FieldLister& v, Shape& s) {
  v("rectangle", s.rectangle, "A rectangle; edges bottom, right, top, left.", OneOf{});
  v("ring", s.ring, "A ring sector; edges start, outer, end, inner.", OneOf{});
  v("disc", s.disc, "A disc, its half or quarter; edges rim, and left and bottom where it is cut.", OneOf{});
  v("profile", s.profile, "A path of lines, arcs and fillets.", OneOf{});
  v("facets", s.facets, "A surface of triangles, for rigid parts of solid models.", OneOf{});
  v("edges", s.edges, "Own names for the four edges of a rectangle or ring, in their order.");
  v("mesh", s.mesh, "Division of this block.");
}
void list(FieldLister& v, Extrude& e) {
  v("from", e.from, "Where the body begins along z.", Kind::length);
  v("depth", e.depth, "How far it is pulled; faces front and back close it.", Kind::length);
  v("twist", e.twist, "Turn of the far end about the z axis; the sections between turn evenly.", Kind::angle);
  v("count", e.count, "Layers of elements; by the element size when left out.", Kind::number);
  v("grading", e.grading, "Thickness of the last layer over the first.", Kind::number);
}
void list(FieldLister& v, Revolve& r) {
  v("from", r.from, "Angle at which the body begins, from x towards z.", Kind::angle);
  v("angle", r.angle, "Angle it is turned through; 360 closes it.", Kind::angle);
  v("count", r.count, "Layers of elements; by the element size when left out.", Kind::number);
}
void list(FieldLister& v, Coil& c) {
  v("radius", c.radius, "Radius of the coil's middle line about the y axis.", Kind::length);
  v("pitch", c.pitch, "Distance from turn to turn along the axis.", Kind::length);
  v("turns", c.turns, "Number of turns; need not be whole.", Kind::number);
  v("hand", c.hand, "right: as the threads of usual screws.", Choice{{"right", "left"}});
  v("count", c.count, "Layers of elements over all turns; by the element size when left out.", Kind::number);
}
void list(FieldLister& v, SpacePath& p) {
  v("start", p.start, "First point of the path; the origin when left out.", Kind::length);
  v("path", p.path, "Lines and arcs of less than half a turn, to points in space; fillet rounds a corner between two lines.");
  v("count", p.count, "Layers of elements over the whole path; by the element size when left out.", Kind::number);
}
void list(FieldLister& v, BoxFeature& b) {
  v("at", b.at, "Corner with the smallest coordinates; the origin when left out.", Kind::length);
  v("size", b.size, "Lengths along x, y and z.", Kind::length);
}
void list(FieldLister& v, CylinderFeature& c) {
  v("from", c.from, "Start of its axis.", Kind::length);
  v("to", c.to, "End of its axis.", Kind::length);
  v("radius", c.radius, "Radius.", Kind::length);
}
void list(FieldLister& v, TubeFeature& t) {
  v("from", t.from, "Start of its axis.", Kind::length);
  v("to", t.to, "End of its axis.", Kind::length);
  v("inner", t.inner, "Inner radius.", Kind::length);
  v("outer", t.outer, "Outer radius.", Kind::length);
}
void list(FieldLister& v, BallFeature& b) {
  v("center", b.center, "Centre; the origin when left out.", Kind::length);
  v("radius", b.radius, "Radius.", Kind::length);
}
void list(FieldLister& v, StepFeature& s) {
  v("file", s.file, "STEP file, beside the model file or with its path.");
  v("solid", s.solid,
    "Name or number of the solid in it, when it holds several; all: all of them as one body, tied where they touch.");
  v("faces", s.faces,
    "What its faces were when it was taken in, written by the program: number, kind, area, x, y, z. A newer file's faces keep "
    "the numbers of those they equal.",
    ProgramsOwn{});
}
void list(FieldLister& v, EdgeFeature& e) {
  v("between", e.between, "Two faces, as feature.face: the edges between them. One: all its edges.");
  v("radius", e.radius, "Radius of a fillet; length of a chamfer's legs.", Kind::length);
}
void list(FieldLister& v, HolePattern& h) {
  v("at", h.at, "Centres [x, y], measured from the plate's corner.", Kind::length);
  v("radius", h.radius, "Radius of the holes.", Kind::length);
  v("pitch", h.pitch, "Distances along x and y at which each is repeated.", Kind::length);
  v("count", h.count, "How often along x and y.", Kind::number);
}
void list(FieldLister& v, PlateFeature& p) {
  v("at", p.at, "Corner with the smallest coordinates; the origin when left out.", Kind::length);
  v("size", p.size, "Lengths along x, y and its thickness along z.", Kind::length);
  v("holes", p.holes, "Holes through it along z; faces hole 1, hole 2 and so on.");
}
void list(FieldLister& v, AngleFeature& a) {
  v("at", a.at, "The outer corner at the end with the smallest z; the origin when left out.", Kind::length);
  v("legs", a.legs, "Lengths of the legs along x and y, over the outside.", Kind::length);
  v("thickness", a.thickness, "Thickness of both legs.", Kind::length);
  v("length", a.length, "Length of the bar along z.", Kind::length);
  v("root", a.root, "Radius between the legs; sharp when left out.", Kind::length);
}
void list(FieldLister& v, BoltFeature& b) {
  v("through", b.through,
    "Holes of other parts that it goes through (part.feature.face); it is as long as they are, and follows their changes.",
    Refers::places);
  v("from", b.from, "Middle of the head's seat; at the holes' end when left out.", Kind::length);
  v("to", b.to, "Middle of the nut's seat; at the holes' other end when left out.", Kind::length);
  v("diameter", b.diameter, "Diameter of the shank; the largest usual one for the holes when left out.", Kind::length);
  v("head", b.head, "Across head and nut; 1.6 diameters when left out.", Kind::length);
  v("head height", b.headHeight, "Height of head and nut; 0.7 diameters when left out.", Kind::length);
  v("washer", b.washer, "Thickness of washers that lie under both; none when left out.", Kind::length);
}
void list(FieldLister& v, HalfFeature& h) {
  v("at", h.at, "A point of the plane; the origin when left out.", Kind::length);
  v("normal", h.normal, "Points away from the side that stays: x, -x, … or a vector.");
}
void list(FieldLister& v, ImprintFeature& p) {
  v("on", p.on, "The plane face that the circle is drawn on, feature.face.");
  v("center", p.center, "Its centre; it is put onto the face.", Kind::length);
  v("radius", p.radius, "Its radius: under a washer, half of its outer diameter.", Kind::length);
}
void list(FieldLister& v, RoundPattern& p) {
  v("count", p.count, "How many there are, the first one among them.", Kind::number);
  v("axis", p.axis, "Direction of the axis: x, y, z or a vector.");
  v("at", p.at, "A point of the axis; the origin when left out.", Kind::length);
  v("angle", p.angle, "From one to the next; they share a full turn when left out.", Kind::angle);
}
void list(FieldLister& v, Feature& f) {
  v("name", f.name, "Name; its faces are called part.name.face. Its kind when left out.");
  v("note", f.note, "A remark.");
  v("box", f.box, "A box; faces left, right, bottom, top, front, back.", OneOf{});
  v("cylinder", f.cylinder, "A cylinder; faces side, start, end.", OneOf{});
  v("tube", f.tube, "A tube; faces inner, outer, start, end.", OneOf{});
  v("ball", f.ball, "A ball; its face is called surface.", OneOf{});
  v("plate", f.plate, "A plate with holes; faces as of a box, and hole 1, hole 2 and so on.", OneOf{});
  v("angle", f.angle, "An angle bar; faces outer x, inner x, tip x, outer y, inner y, tip y, root, front, back.", OneOf{});
  v("bolt", f.bolt, "A bolt with head and nut; faces shank, head seat, nut seat, head and nut.", OneOf{});
  v("profile", f.profile,
    "A closed path in the x-y plane, extruded along z or revolved about y; faces by the names of its pieces, front and back.",
    OneOf{});
  v("extrude", f.extrude, "How far the profile is pulled.");
  v("revolve", f.revolve, "How far the profile is turned.");
  v("half", f.half, "Cuts the part by a plane; the face it makes is called cut.", OneOf{});
  v("imprint", f.imprint, "Draws a circle on a face: what lies inside is a face of its own, called inside.", OneOf{});
  v("step", f.step, "A solid from a STEP file; faces 1, 2, 3 and so on, in the order of the file.", OneOf{});
  v("fillet", f.fillet, "Rounds edges; the faces it makes are called round.", OneOf{});
  v("chamfer", f.chamfer, "Cuts edges off; the faces it makes are called slope.", OneOf{});
  v("around", f.around, "Repeats it round an axis; the others are called by its name and 2, 3 and so on.");
  v("how", f.how, "Whether it is added, cut out, or only what is common with it is kept.", Choice{{"add", "cut", "common"}});
}
void list(FieldLister& v, Place& p) {
  v("axis", p.axis, "Axis through the origin that the part is turned about first.", Choice{{"x", "y", "z"}});
  v("angle", p.angle, "Angle of the turn.", Kind::angle);
  v("shift", p.shift, "Shift after the turn.", Kind::length);
}
void list(FieldLister& v, NearSize& n) {
  v("at", n.at, "The place, in the part's own coordinates.", Kind::length);
  v("within", n.within, "Distance from it up to which elements are small.", Kind::length);
  v("size", n.size, "Edge length of elements there.", Kind::length);
}
void list(FieldLister& v, Thin& t) {
  v("thickness", t.thickness, "Thickness of the sheet; of a solid that is one wall all over it is measured when left out.",
    Kind::length);
  v("faces", t.faces,
    "Faces of the part's solid that make the sheet, as feature.face or feature. Left out: all of a body without volume, one side "
    "of "
    "a solid that is one wall.");
  v("given", t.given,
    "Where in the sheet the drawn surface lies. The upper side is that of larger z; of a swept line the one on its left; of a "
    "solid's faces the outer one.",
    Choice{{"middle", "upper", "lower"}});
  v("points", t.points, "Points of integration through the thickness, 2 to 9; 5 see yielding begin at the sides.", Kind::number);
  v("cells", t.cells, "Quads bend better; triangles to compare.", Choice{{"quads", "triangles"}});
}
void list(FieldLister& v, Section& s) {
  v("form", s.form, "Its form. Height is measured along the section's up, width across it.",
    Choice{{"rectangle", "round", "tube", "I", "channel", "angle", "polygon"}});
  v("width", s.width, "Width: of rectangle, I, channel and angle.", Kind::length);
  v("height", s.height, "Height: of rectangle, I, channel and angle.", Kind::length);
  v("diameter", s.diameter, "Outer diameter: of round and tube.", Kind::length);
  v("wall", s.wall, "Wall thickness: of tube, channel and angle; of an I its web's.", Kind::length);
  v("flange", s.flange, "Thickness of the flanges of I and channel; the wall's when left out.", Kind::length);
  v("points", s.points, "Corners of a polygon, once round: [across, up].", Kind::length);
  v("torsion", s.torsion, "Torsion constant, in mm^4; worked out from the form when left out.", Kind::number);
  v("shift", s.shift, "Where the section's middle lies, seen from the line: [across, up].", Kind::length);
}
void list(FieldLister& v, SlenderLine& l) {
  v("from", l.from, "The point where it begins.");
  v("to", l.to, "The point where it ends. Lines that share a point are joined there.");
  v("by", l.by, "A point that it goes by: the line is an arc of a circle. Straight when left out.", Kind::length);
  v("section", l.section, "Name of its section; the part's first when left out.");
  v("up", l.up, "Solid models: direction of the section's up; y when left out.");
  v("hinged", l.hinged, "Ends that turn freely where they are joined.", Choice{{"none", "from", "to", "both"}});
  v("carries", l.carries, "all: a beam. pull and push: a bar with a normal force alone. pull: a stay, which goes slack.",
    Choice{{"all", "pull and push", "pull"}});
  v("tension", l.tension, "Normal force in it at the start, before anything moves.", Kind::force);
  v("edge", l.edge,
    "Edge of another part that it runs along, of a solid or a sheet: part.face & part.face. Points are then made at its ends "
    "unless from and to name some that lie there.",
    Refers::places);
  v("count", l.count, "Elements along it; by the element size when left out, else 16.", Kind::number);
}
void list(FieldLister& v, Slender& s) {
  v("points", s.points, "Points by name: coordinates, or the point of another slender part (part.point), to which it is joined.",
    Kind::length);
  v("lines", s.lines, "Lines from point to point.");
  v("sections", s.sections, "What the lines look like when they are cut across.");
}
void list(FieldLister& v, Part& p) {
  v("note", p.note, "A remark.");
  v("material", p.material, "Name of its material.", Refers::materials);
  v("rigid", p.rigid,
    "A rigid body: no mesh, no material. Exact from lines and arcs, and from a single cylinder, tube or ball; other solids by "
    "the facets of their faces.");
  v("loose", p.loose,
    "Rigid body: directions (x, y, turn) in which only loads, springs and contact hold it; else it stands still where nothing "
    "moves or loads it.",
    OnlyWhen{"rigid", "true"});
  v("pivot", p.pivot, "Rigid body: the point it turns about, in its final place.", Kind::length, OnlyWhen{"rigid", "true"});
  v("element", p.element,
    "Quadratic elements (quad8, tri6; hex20, tet10 in solid models) bend well; linear ones (quad4, hex8) are cheap and robust "
    "where strains are very large. auto: quad8 or hex20.",
    Choice{{"auto", "quad8", "quad4", "tri6", "hex20", "hex8", "tet10"}});
  v("shape", p.shape, "One block or several that share corner points along their common edges.");
  v("thin", p.thin,
    "Solid models: a sheet. A flat shape is its surface in the x-y plane; extruded, revolved, coiled or along a path the shape's "
    "line is swept. Faces upper and lower, and its edges.");
  v("slender", p.slender, "In place of shapes: beams, frames, stays. Lines between points, with a section each.");
  v("mesh", p.mesh, "Division of its blocks.");
  v("extrude", p.extrude, "Solid models: pulls the shapes along z.");
  v("revolve", p.revolve, "Solid models: turns the shapes about the y axis.");
  v("coil", p.coil, "Solid models: winds the shapes round the y axis, as a spring. Their origin lies on the coil.");
  v("along", p.along, "Solid models: moves the shapes along a path in space, square to it, as a bent tube.");
  v("solid", p.solid,
    "Solid models: a solid built of features one after the other, swept in hexes where it can be, else filled with 10-node "
    "tetrahedra.");
  v("sizes", p.faceSizes, "Element sizes on faces of a solid: {\"hole.side\": 1.5}, or of all faces of a feature.",
    Refers::faces);
  v("near", p.near, "Smaller elements round places of a solid, where contact or a notch wants them.");
  v("place", p.place, "Where the part is put.");
  v("around", p.around,
    "Repeats the part round an axis of the model. Its faces' names mean all of them; with 1, 2 and so on behind, one alone.");
  v("color", p.color, "Display colour, #RRGGBB.");
}

template <>
const Type& typeOf<Part>() {
  static const TypeMaker<Part> type;
  return type;
}

}  // namespace anvil::model
