// The keys of the model format: one line each, v("key", member, "help", …) with the kind of quantity, the words that may stand
// there, or what is named there.
#include "core/model/field_lister.hpp"

namespace anvil::model {

void list(FieldLister& v, Elastic& e) {
  v("E", e.E, "Young's modulus.", Kind::stress);
  v("nu", e.nu, "Poisson's ratio, below 0.5.", Kind::number);
  v("rows", e.rows, "Elastic along a curve, loading and unloading alike: [strain, stress] per row, in tension.",
    Columns{{Kind::number, Kind::stress}});
  v("stress", e.stress, "What the rows' values are: true stress and log strain, or engineering ones.",
    Choice{{"true", "engineering"}});
}
void list(FieldLister& v, PowerLaw& p) {
  v("reference", p.reference, "Reference strain e0 of yield (1 + strain/e0)^n.", Kind::number);
  v("exponent", p.exponent, "Exponent n, from 0 to 1.", Kind::number);
}
void list(FieldLister& v, VoceLaw& p) {
  v("gain", p.gain, "Rise Q that the yield stress approaches.", Kind::stress);
  v("rate", p.rate, "Rate b: the larger, the sooner.", Kind::number);
  v("slope", p.slope, "Slope of the straight part on top.", Kind::stress);
}
void list(FieldLister& v, Rubber& r) {
  v("neo-hooke", r.neoHooke, "Shear modulus of a neo-Hookean rubber.", Kind::stress);
  v("mooney", r.mooney, "C10 and C01 of a Mooney-Rivlin rubber.", Kind::stress);
  v("yeoh", r.yeoh, "C1, C2 and C3 of a Yeoh rubber.", Kind::stress);
  v("ogden", r.ogden, "Ogden's terms: [mu, alpha] per row, of the energy mu/alpha (sum of stretches^alpha - 3).",
    Columns{{Kind::stress, Kind::number}});
  v("bulk", r.bulk, "Bulk modulus; 1000 times the shear modulus when left out.", Kind::stress);
}
void list(FieldLister& v, Plastic& p) {
  v("yield", p.yield, "Stress at first yield. Left out when rows are given.", Kind::stress);
  v("tangent", p.tangent, "Slope of true stress against total strain after yield. Left out: perfectly plastic.", Kind::stress);
  v("rows", p.rows, "Hardening table: [strain, stress] per row; the first row is the yield point.",
    Columns{{Kind::number, Kind::stress}});
  v("strain", p.strain, "What the rows' strains are: plastic, or total (elastic part included).", Choice{{"plastic", "total"}});
  v("stress", p.stress, "What the rows' values are: true stress and log strain, or engineering ones from a tensile test.",
    Choice{{"true", "engineering"}});
  v("hardening", p.hardening, "How yielding one way changes yielding the other way.",
    Choice{{"isotropic", "kinematic", "mixed"}});
  v("kinematic share", p.kinematicShare, "Mixed hardening: part that moves the yield surface, 0 to 1.", Kind::number);
  v("power", p.power, "Yield stress by a power law instead of a table.");
  v("voce", p.voce, "Yield stress that saturates, instead of a table.");
  v("back stresses", p.backStresses, "Cyclic hardening: saturating back stresses, [modulus, recovery] per row.",
    Columns{{Kind::stress, Kind::number}});
}
void list(FieldLister& v, Material& m) {
  v("note", m.note, "A remark.");
  v("elastic", m.elastic, "Elastic constants.");
  v("plastic", m.plastic, "Yield and what follows it. Left out: stays elastic.");
  v("rubber", m.rubber, "A rubber's energy, in place of elastic constants.");
  v("density", m.density, "Mass per volume.", Kind::density);
  v("expansion", m.expansion, "Thermal strain per kelvin.", Kind::expansion);
}
void list(FieldLister& v, PlaneRule& p) {
  v("at", p.at, "A point of the plane.", Kind::length);
  v("normal", p.normal, "Its normal: x, y, z or a vector.");
  v("within", p.within, "Largest distance from it; a hundredth of the model's size when left out.", Kind::length);
}
void list(FieldLister& v, BoxRule& b) {
  v("from", b.from, "Corner with the smallest coordinates.", Kind::length);
  v("to", b.to, "Corner with the largest ones.", Kind::length);
}
void list(FieldLister& v, Region& r) {
  v("edges", r.edges, "Edges or faces as part.edge.", Refers::places);
  v("cylinder of", r.cylinderOf, "All faces on the same cylinder as these.", Refers::places);
  v("tangent to", r.tangentTo, "All faces that go on from these without a corner.", Refers::places);
  v("plane", r.plane, "All faces in a plane.");
  v("box", r.box, "All faces inside a box.");
  v("of", r.of, "Parts that plane and box look at; all when left out.", Refers::parts);
}
void list(FieldLister& v, Increments& i) {
  v("first", i.first, "First increment as a part of the step; make it small where contact starts.", Kind::number);
  v("smallest", i.smallest, "The run gives up below this.", Kind::number);
  v("largest", i.largest, "No increment is larger; make it small to see more of the history.", Kind::number);
  v("most", i.most, "Largest number of increments in the step.");
  v("at", i.at, "Times after the step's begin at which an increment ends, so that there are results of just then.", Kind::time);
}
void list(FieldLister& v, Until& u) {
  v("watch", u.watch, "Watched point.", Refers::watch);
  v("along", u.along, "Its displacement along x, y (r, z; in space x, y, z).");
  v("passes", u.passes, "The value that ends the step.", Kind::length);
}
void list(FieldLister& v, Step& s) {
  v("note", s.note, "A remark.");
  v("time", s.time, "Duration; only ratios matter when nothing depends on rate.", Kind::time);
  v("control", s.control,
    "What leads: time raises the loading to its value; arc length follows the structure past load limits, where the loading may "
    "have to fall (snap-through, snap-back).",
    Choice{{"time", "arc length"}});
  v("until", s.until, "Arc length: ends the step early, where a watched displacement passes a value.");
  v("increments", s.increments, "Increment sizes.");
}
void list(FieldLister& v, Support& s) {
  v("on", s.on, "Regions, faces, edges and corners (\"part.face & part.face\", where they meet) or a rigid part.",
    Refers::places);
  v("fix", s.fix,
    "Directions held: x, y (r, z), normal to the face (symmetry plane), or radial and around an axis: radial y, around y (plane: "
    "radial, around).");
  v("about", s.about, "A point of the axis of radial and around; the origin when left out.", Kind::length);
  v("edge", s.edge, "Edges of thin parts: held from side to side, or hinged, so that they turn about their middle line.",
    Choice{{"held", "hinged"}});
  v("during", s.during, "Steps in which it acts; all when left out.", Refers::steps);
}
void list(FieldLister& v, Motion& m) {
  v("on", m.on, "Regions, faces, edges and corners (\"part.face & part.face\", where they meet) or a rigid part.",
    Refers::places);
  v("along", m.along,
    "Direction: an axis, normal, a vector, radial or around an axis (radial y, around y in solid models), or turn (turn x, turn "
    "y, turn z).");
  v("axis", m.axis, "Turn in space about any axis: its direction (x, y, z or a vector), with along turn.");
  v("about", m.about, "A point of the axis of turn, radial and around; a rigid part turns about its pivot.", Kind::length);
  v("edge", m.edge, "Edges of thin parts: moved from side to side, or hinged, so that they turn about their middle line.",
    Choice{{"held", "hinged"}});
  v("course", m.course, "Travel over the steps.", Kind::length);
}
void list(FieldLister& v, Load& l) {
  v("on", l.on,
    "Regions or faces; a force also on edges and corners (\"part.face & part.face\"), a force or moment on a carrier or rigid "
    "part.",
    Refers::places);
  v("kind", l.kind,
    "pressure follows the surface; force is a total that keeps its direction; force per length acts along edges of thin parts, "
    "slender lines and edges where faces meet; moment turns a carrier, a rigid part or a point of a slender part, or acts along "
    "edges of thin parts.",
    Choice{{"pressure", "force", "force per length", "moment"}});
  v("of", l.of,
    "part: the value is what acts on the modelled part. whole: it is for the whole that symmetry planes make of it, and is "
    "shared out.",
    Choice{{"part", "whole"}});
  v("along", l.along, "Direction of a force; axis of a moment (plane models: left out).");
  v("course", l.course, "Value over the steps.", Kind::stress);
}
void list(FieldLister& v, Carrier& c) {
  v("on", c.on, "Regions or edges that follow the point.", Refers::places);
  v("at", c.at, "The point; the faces' middle when left out.", Kind::length);
  v("end", c.end, "In place of at: the point of a slender part (part.point) that is joined to the faces, or to a rigid part.",
    Refers::places);
  v("hold", c.hold, "rigid: the faces keep their shape. mean: they follow in the mean and may deform.",
    Choice{{"rigid", "mean"}});
}
void list(FieldLister& v, Spring& s) {
  v("between", s.between, "One or two carriers or rigid parts.", Refers::places);
  v("at", s.at, "Place in space of the other end, when one is named.", Kind::length);
  v("along", s.along, "An axis, or turn (turn x, turn y, turn z); along the line between the ends when left out.");
  v("stiffness", s.stiffness, "Force per extension; turning: moment per angle (N mm/rad).", Kind::lineForce);
  v("rows", s.rows, "Instead of a stiffness: [extension, force] per row, in mm and N; turning: radians and N mm.",
    Columns{{Kind::length, Kind::force}}, InCoreUnits{});
  v("damping", s.damping, "Force per speed; turning: moment per turning speed (N mm s/rad).", Kind::damping);
}
void list(FieldLister& v, BoltBeam& b) {
  v("head", b.head, "Faces that the head presses.", Refers::places);
  v("nut", b.nut, "Faces that the nut presses.", Refers::places);
  v("diameter", b.diameter, "Of the shank.", Kind::length);
  v("material", b.material, "Its elastic part is taken.", Refers::materials);
}
void list(FieldLister& v, Bolt& b) {
  v("on", b.on, "Faces of its shank; the program cuts it across. Left out for a beam.", Refers::places);
  v("beam", b.beam, "A bolt that is not drawn: an elastic round beam from head to nut, its ends spread over the faces there.");
  v("of", b.of,
    "part: forces are those of the modelled part of the shank. whole: those of the whole bolt that symmetry planes cut.",
    Choice{{"part", "whole"}});
  v("along", b.along, "Its axis: x, y, z or a vector; from the faces when left out.");
  v("cut", b.cut, "Where it is cut, as a share of the shank from its lower end.", Kind::number);
  v("force", b.force,
    "Steps with a value tighten to that force. In all others it keeps its length, so that its force follows the loading; where "
    "it is off it is slack.",
    Kind::force);
  v("shortening", b.shortening, "Steps with a value draw the bolt in by that much.", Kind::length);
}
void list(FieldLister& v, ContactStart& s) {
  v("close within", s.closeWithin, "Gaps and overlaps up to this count as touching, without strain.", Kind::length);
  v("resolve over", s.resolveOver, "Step over which an overlap is resolved gradually.", Refers::steps);
}
void list(FieldLister& v, Contact& c) {
  v("between", c.between,
    "The two surfaces; one surface alone touches itself; everything: all outsides and rigid parts against each other. Of a rigid "
    "part of features a face alone can be named.",
    Refers::places);
  v("kind", c.kind,
    "touching opens and slides; tied never moves; rough never slides; sliding never opens; cyclic: the two cut faces of a "
    "sector, "
    "of which one goes on where the other ends.",
    Choice{{"touching", "tied", "rough", "sliding", "cyclic"}});
  v("friction", c.friction, "Friction coefficient.", Kind::number);
  v("shear limit", c.shearLimit, "Friction traction is never above this.", Kind::stress);
  v("start", c.start, "What happens to gaps and overlaps at the start.");
  v("interference", c.interference, "Overlap added along the normal.", Kind::length);
  v("pressure on", c.pressureOn, "Side that carries the pressure unknowns; auto takes the softer, finer one.",
    Choice{{"auto", "first", "second"}});
  v("search", c.search, "Distance within which faces are looked for; chosen from the element size when left out.", Kind::length);
  v("axis", c.axis, "Cyclic: direction of the axis that the sector repeats round, x, y, z or a vector (plane models: left out).",
    OnlyWhen{"kind", "cyclic"});
  v("about", c.about, "Cyclic: a point of that axis; the origin when left out.", Kind::length, OnlyWhen{"kind", "cyclic"});
  v("during", c.during, "Steps in which it acts; all when left out.", Refers::steps);
}
void list(FieldLister& v, Stabilisation& s) {
  v("on", s.on, "Parts that are free until they touch.", Refers::parts);
  v("strength", s.strength, "Multiplies the self-chosen viscosity.", Kind::number);
  v("during", s.during, "Steps in which it acts.", Refers::steps);
}
void list(FieldLister& v, Temperature& t) {
  v("on", t.on, "Parts.", Refers::parts);
  v("rise", t.rise, "Change against the start, in kelvin.", Kind::number);
}
void list(FieldLister& v, Watch& w) {
  v("at", w.at, "Point in the undeformed shape; the nearest node is followed.", Kind::length);
  v("part", w.part, "Part it belongs to.", Refers::parts);
}
void list(FieldLister& v, Solver& s) {
  v("force tolerance", s.forceTolerance, "Largest residual force over the running average nodal force.", Kind::number);
  v("correction tolerance", s.correctionTolerance, "Last correction over the increment's displacement.", Kind::number);
  v("most iterations", s.mostIterations, "An increment is cut when it needs more.");
  v("fewest iterations", s.fewestIterations, "At least so many.");
  v("easy iterations", s.easyIterations, "Up to so many, the next increment grows.");
  v("growth", s.growth, "Growth of the increment after an easy one.", Kind::number);
  v("cut", s.cutback, "Shrinkage after a failed one.", Kind::number);
  v("plastic strain limit", s.plasticStrainLimit,
    "Largest plastic strain increment at a point in one increment; increments are kept below it.", Kind::number);
  v("line search", s.lineSearch, "Shortens corrections that overshoot.");
  v("predictor", s.predictor, "Starts each increment from the last one's course.");
}
void list(FieldLister& v, Storage& s) {
  v("increments", s.increments,
    "Which increments are stored: all, each n-th of a step, those at given times, or the steps' ends alone. Step ends are stored "
    "in any case, and so is the last one, from which a run goes on. Histories are of all.",
    Choice{{"all", "each n-th", "at times", "step ends"}});
  v("every", s.every, "n of each n-th: 5 stores every fifth increment.", OnlyWhen{"increments", "each n-th"});
  v("times", s.times, "Times of the run at which an increment is stored: the first that reaches one.", Kind::time,
    OnlyWhen{"increments", "at times"});
  v("leave out", s.leaveOut, "Fields that are not stored: stress, strain, plastic strain, strain energy, reaction.");
}
void list(FieldLister& v, FileUnits& u) {
  v("length", u.length, "Unit of bare lengths."), v("force", u.force, "Unit of bare forces.");
  v("stress", u.stress, "Unit of bare stresses."), v("time", u.time, "Unit of bare times.");
  v("temperature", u.temperature, "Unit of bare temperatures."), v("angle", u.angle, "Unit of bare angles.");
  v("density", u.density, "Unit of bare densities.");
}
void list(FieldLister& v, Document& d) {
  v("anvil", d.anvil, "Version of the format: 1.");
  v("title", d.title, "What this model is.");
  v("note", d.note, "A remark.");
  v("units", d.units, "Units of bare numbers.");
  v("parameters", d.parameters, "Named numbers for use in expressions.");
  v("space", d.space, "Kind of model.", Choice{{"plane strain", "plane stress", "axisymmetric", "solid"}});
  v("geometry", d.geometry, "large follows rotation and stretch; small is for comparison.", Choice{{"large", "small"}});
  v("thickness", d.thickness, "Thickness of a plane model.", Kind::length);
  v("fineness", d.fineness,
    "Of all meshes at once: draft has elements 1.6 times as long and about half as many round a circle, fine 0.6 times.",
    Choice{{"draft", "usual", "fine"}});
  v("materials", d.materials, "Materials by name."), v("parts", d.parts, "Parts by name.");
  v("regions", d.regions, "Named sets of edges."), v("contacts", d.contacts, "What touches what.");
  v("steps", d.steps, "The loading history.");
  v("supports", d.supports, "What is held."), v("motions", d.motions, "What is moved.");
  v("loads", d.loads, "What pushes."), v("carriers", d.carriers, "Points that faces follow."),
      v("springs", d.springs, "Springs and dashpots."), v("bolts", d.bolts, "Bolts, tightened and held."),
      v("temperatures", d.temperatures, "What warms or cools."),
      v("stabilisations", d.stabilisations, "Viscous help for loose parts.");
  v("watch", d.watch, "Points to follow."), v("results", d.results, "What of a run is stored."),
      v("solver", d.solver, "Iteration and increment control.");
}

const Type& documentType() { return typeOf<Document>(); }
Value root(Document& document) { return {documentType(), &document}; }
Value root(const Document& document) { return root(const_cast<Document&>(document)); }

}  // namespace anvil::model
