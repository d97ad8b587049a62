#include "app/desk/arrangement.hpp"

#include <QStringList>
#include <map>
#include <typeindex>

#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/regions.hpp"
#include "core/model/shapes.hpp"
#include "core/model/slender.hpp"
#include "core/model/storing.hpp"

namespace anvil::app {

using namespace model;

std::string Surroundings::beside(const char* key) const {
  const auto* f = owner.type().find(key);
  if (!f) return {};
  const auto v = owner[*f];
  if (v.is<std::string>()) return v.as<std::string>();
  if (v.is<bool>()) return v.as<bool>() ? "true" : "false";
  if (v.is<Direction>()) return v.as<Direction>().axis;
  std::string all;
  if (v.is<std::vector<std::string>>())
    for (const auto& w : v.as<std::vector<std::string>>()) all += w + " ";
  return all;
}
bool Surroundings::solid() const { return document.space == "solid"; }

namespace {

using S = const Surroundings&;
bool is(S s, const char* key, const char* word) { return s.beside(key) == word; }
bool has(S s, const char* key, const char* part) { return s.beside(key).find(part) != std::string::npos; }
bool anyThin(S s) {
  for (const auto& [name, p] : s.document.parts)
    if (p.thin) return true;
  return false;
}
bool deformable(S s) { return !is(s, "rigid", "true"); }
bool rigid(S s) { return is(s, "rigid", "true"); }
bool ofShapes(S s) { return deformable(s) && s.owner.as<Part>().solid.empty() && !s.owner.as<Part>().slender; }
bool ofFeatures(S s) { return s.solid() && s.owner.as<Part>().shape.empty() && !s.owner.as<Part>().slender; }
bool inSolid(S s) { return s.solid(); }
bool turns(S s) { return has(s, "along", "turn") || has(s, "along", "around") || has(s, "along", "radial"); }
bool directed(S s) { return !is(s, "kind", "pressure") && !(is(s, "kind", "moment") && !s.solid()); }
bool touching(S s) { return is(s, "kind", "touching"); }
bool mixed(S s) { return is(s, "hardening", "mixed"); }
bool tabled(S s) { return !s.owner.as<Plastic>().rows.empty(); }
bool byConstants(S s) { return s.owner.as<Plastic>().rows.empty(); }
bool curved(S s) { return !s.owner.as<Elastic>().rows.empty(); }
bool drawn(S s) { return !s.owner.as<Bolt>().beam; }
bool eachNth(S s) { return is(s, "increments", "each n-th"); }
bool atTimes(S s) { return is(s, "increments", "at times"); }
bool arc(S s) { return is(s, "control", "arc length"); }
bool round(S s) { return is(s, "form", "round") || is(s, "form", "tube"); }
bool flat(S s) { return is(s, "form", "rectangle") || is(s, "form", "I") || is(s, "form", "channel") || is(s, "form", "angle"); }
bool walled(S s) { return !is(s, "form", "rectangle") && !is(s, "form", "round") && !is(s, "form", "polygon"); }
bool flanged(S s) { return is(s, "form", "I") || is(s, "form", "channel"); }
bool polygon(S s) { return is(s, "form", "polygon"); }

template <class T>
std::type_index of() {
  return std::type_index(typeid(T));
}

const std::map<std::type_index, std::vector<Arranged>>& arrangements() {
  using C = Choosing;
  static const std::map<std::type_index, std::vector<Arranged>> all{
      {of<Material>(),
       {{"elastic", "Elastic"},
        {"plastic", "Yielding"},
        {"rubber", "Rubber"},
        {"density", "Density", "Weight and heat"},
        {"expansion", "Thermal expansion", "Weight and heat"},
        {"note", "Note", "More"}}},
      {of<Elastic>(),
       {{"E", "Young's modulus"},
        {"nu", "Poisson's ratio"},
        {"rows", "Strain and stress", "Elastic along a curve"},
        {"stress", "The curve's values are", "Elastic along a curve", curved}}},
      {of<Plastic>(),
       {{"yield", "Yield stress", "", byConstants},
        {"tangent", "Slope after yield", "", byConstants},
        {"rows", "Strain and stress", "", tabled},
        {"strain", "The strains are", "", tabled},
        {"stress", "The stresses are", "", tabled},
        {"hardening", "Hardening"},
        {"kinematic share", "Share that moves", "", mixed},
        {"back stresses", "Back stresses", "Cyclic loading"}}},
      {of<Part>(),
       {{"material", "Material", "", deformable},
        {"shape", "Shape"},
        {"solid", "Features"},
        {"slender", "Lines"},
        {"thin", "Sheet"},
        {"element", "Elements", "", ofShapes},
        {"mesh", "Mesh", "", deformable},
        {"sizes", "Element sizes on faces", "Finer in places", ofFeatures},
        {"near", "Finer elements near", "Finer in places", deformable},
        {"loose", "Free directions", "", rigid, C::looseDirections},
        {"pivot", "Turns about", "", rigid},
        {"extrude", "Pulled along z", "", inSolid},
        {"revolve", "Turned about y", "", inSolid},
        {"coil", "Wound", "", inSolid},
        {"along", "Along a path", "", inSolid},
        {"place", "Place"},
        {"around", "Repeated round an axis"},
        {"rigid", "Rigid body", "More"},
        {"color", "Colour", "More"},
        {"note", "Note", "More"}}},
      {of<Feature>(), {{"name", "Name"}, {"how", "It is"}, {"note", "Note", "More"}}},
      {of<Shape>(),
       {{"edges", "Names of its edges", "", [](S s) { return s.owner.as<Shape>().rectangle || s.owner.as<Shape>().ring; }},
        {"mesh", "Division of this block"}}},
      {of<Profile>(),
       {{"start", "First point", outlineAsText}, {"path", "Pieces", outlineAsText}, {"sides", "Its four sides", outlineAsText}}},
      {of<Contact>(),
       {{"between", "Between", "", nullptr, C::places},
        {"kind", "Kind"},
        {"friction", "Friction coefficient", "", touching},
        {"start", "Gaps and overlaps at the start"},
        {"interference", "Overlap added", "Press fit"},
        {"axis", "Axis of the sector", "", nullptr, C::axis},
        {"about", "A point of the axis"},
        {"during", "Acts in", "When it acts", nullptr, C::steps},
        {"shear limit", "Largest friction traction", "More", touching},
        {"pressure on", "Pressure is carried by", "More"},
        {"search", "Looks for faces within", "More"}}},
      {of<ContactStart>(), {{"close within", "Close gaps up to"}, {"resolve over", "Resolve overlap over step"}}},
      {of<Support>(),
       {{"on", "On", "", nullptr, C::places},
        {"fix", "Holds", "", nullptr, C::heldDirections},
        {"about", "Axis goes through", "", [](S s) { return has(s, "fix", "radial") || has(s, "fix", "around"); }},
        {"edge", "Edges of sheets", "", anyThin},
        {"during", "Acts in", "When it acts", nullptr, C::steps}}},
      {of<Motion>(),
       {{"on", "On", "", nullptr, C::places},
        {"along", "Along", "", nullptr, C::direction},
        {"axis", "Axis of the turn", "", [](S s) { return has(s, "along", "turn"); }, C::axis},
        {"about", "Axis goes through", "", turns},
        {"course", "Travel"},
        {"edge", "Edges of sheets", "", anyThin}}},
      {of<Load>(),
       {{"on", "On", "", nullptr, C::places},
        {"kind", "Kind"},
        {"course", "Value"},
        {"along", "Along", "", directed, C::forceDirection},
        {"of", "The value is for", "Symmetry"}}},
      {of<Carrier>(),
       {{"on", "Faces that follow", "", nullptr, C::places},
        {"hold", "The faces"},
        {"at", "The point"},
        {"end", "Joined to the point of a line", "More", nullptr, C::places}}},
      {of<Spring>(),
       {{"between", "Between", "", nullptr, C::places},
        {"stiffness", "Stiffness"},
        {"along", "Along", "", nullptr, C::springDirection},
        {"at", "Other end in space"},
        {"rows", "Extension and force", "Along a curve"},
        {"damping", "Damping", "Damping"}}},
      {of<Bolt>(),
       {{"on", "Faces of the shank", "", drawn, C::places},
        {"force", "Tightened to"},
        {"beam", "Beam, not drawn"},
        {"shortening", "Drawn in by", "By a length"},
        {"of", "Forces are for", "Symmetry"},
        {"along", "Axis", "More", drawn, C::axis},
        {"cut", "Cut at", "More", drawn}}},
      {of<BoltBeam>(),
       {{"diameter", "Diameter"},
        {"material", "Material"},
        {"head", "Under the head", "", nullptr, C::places},
        {"nut", "Under the nut", "", nullptr, C::places}}},
      {of<Temperature>(), {{"on", "Parts", "", nullptr, C::parts}, {"rise", "Rise, kelvin"}}},
      {of<Stabilisation>(),
       {{"on", "Parts", "", nullptr, C::parts}, {"during", "Acts in", "", nullptr, C::steps}, {"strength", "Strength", "More"}}},
      {of<Watch>(), {{"part", "Part"}, {"at", "Point"}}},
      {of<Region>(),
       {{"edges", "Faces and edges", "", nullptr, C::places},
        {"cylinder of", "All on the cylinder of", "By rule", nullptr, C::places},
        {"tangent to", "All that go on from", "By rule", nullptr, C::places},
        {"plane", "In a plane"},
        {"box", "In a box"},
        {"of", "Of the parts", "By rule", nullptr, C::parts}}},
      {of<PlaneRule>(), {{"at", "A point of it"}, {"normal", "Its normal", "", nullptr, C::axis}, {"within", "Within"}}},
      {of<Step>(),
       {{"time", "Duration"},
        {"increments", "Increments"},
        {"control", "Led by", "Past a load limit"},
        {"until", "Ends early", "", arc},
        {"note", "Note", "More"}}},
      {of<Increments>(),
       {{"first", "First increment"},
        {"largest", "Largest increment"},
        {"at", "Also end one at", "More"},
        {"smallest", "Give up below", "More"},
        {"most", "At most so many", "More"}}},
      {of<Section>(),
       {{"form", "Form"},
        {"width", "Width", "", flat},
        {"height", "Height", "", flat},
        {"diameter", "Outer diameter", "", round},
        {"wall", "Wall", "", walled},
        {"flange", "Flange thickness", "", flanged},
        {"points", "Corners", "", polygon},
        {"torsion", "Torsion constant", "More"},
        {"shift", "Shift of the middle", "More"}}},
      {of<Storage>(),
       {{"increments", "Increments stored"},
        {"every", "Each", "", eachNth},
        {"times", "Times", "", atTimes},
        {"leave out", "Leave out", "", nullptr, C::optionalFields}}},
      {of<Solver>(),
       {{"most iterations", "Most iterations"},
        {"plastic strain limit", "Plastic strain in one increment"},
        {"force tolerance", "Force tolerance"},
        {"correction tolerance", "Correction tolerance"},
        {"growth", "Growth of increments", "Sizes of increments"},
        {"cut", "Shrinkage of a failed one", "Sizes of increments"},
        {"easy iterations", "Easy below", "Sizes of increments"},
        {"fewest iterations", "Fewest iterations", "Sizes of increments"},
        {"line search", "Line search", "Iterations"},
        {"predictor", "Predictor", "Iterations"}}},
  };
  return all;
}

QStringList lines(const std::vector<std::string>& names) {
  QStringList list;
  for (const auto& own : names) list << QString::fromStdString(own);
  return list;
}

}  // namespace

const std::vector<Arranged>& arrangementOf(const Type& type) {
  static const std::vector<Arranged> none;
  const auto it = arrangements().find(std::type_index(type.cpp));
  return it == arrangements().end() ? none : it->second;
}

QStringList choicesFor(Choosing choosing, const Document& d) {
  const bool solid = d.space == "solid", axisymmetric = d.space == "axisymmetric";
  const QStringList axes = solid ? QStringList{"x", "y", "z"} : axisymmetric ? QStringList{"r", "z"} : QStringList{"x", "y"};
  QStringList words = axes;
  switch (choosing) {
    case Choosing::asTyped:
      return {};
    case Choosing::heldDirections:
      words << "normal";
      if (solid)
        for (const auto& a : axes) words << "radial " + a << "around " + a;
      else if (!axisymmetric)
        words << "radial"
              << "around";
      return words;
    case Choosing::looseDirections:
      if (!solid) return axisymmetric ? QStringList{"z"} : words << "turn";
      for (const auto& a : axes) words << "turn " + a;
      return words;
    case Choosing::direction:
      words << "normal";
      if (solid)
        for (const auto& a : axes) words << "turn " + a << "radial " + a << "around " + a;
      else if (!axisymmetric)
        words << "turn"
              << "radial"
              << "around";
      return words;
    case Choosing::springDirection:
      for (const auto& a : axes)
        if (solid) words << "turn " + a;
      return solid || axisymmetric ? words : words << "turn";
    case Choosing::forceDirection:
    case Choosing::axis:
      for (const auto& a : axes) words << "-" + a;
      return words;
    case Choosing::steps:
      return lines(d.steps.names());
    case Choosing::parts:
      return lines(d.parts.names());
    case Choosing::places: {  // rigid parts and carriers besides faces, which the mesh tells
      words = lines(d.regions.names());
      for (const auto& [name, part] : d.parts)
        if (part.rigid) words << QString::fromStdString(name);
      return words << lines(d.carriers.names());
    }
    case Choosing::optionalFields:
      return lines(optionalFields());
  }
  return {};
}

}  // namespace anvil::app
