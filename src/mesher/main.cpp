// anvil-mesher JOB RESULT: reads the solids of a STEP file; or fills one solid with ten-node tetrahedra, or divides the end of
// one that is a figure pulled straight into quads to be swept, in a process of its own: the mesher library keeps its state in
// globals, prints, and cannot be stopped otherwise. Job and result are CBOR; stages go to standard error, a line each. Exit code
// 0 done, 1 refused (the reason is in the result).
#include <fcntl.h>
#include <unistd.h>
#include <BRepGProp.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <BinTools.hxx>
#include <GProp_GProps.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS_Compound.hxx>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <functional>
#include <iterator>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>
#include <stdexcept>

#include "core/base/process.hpp"
#include "mesher/improve.hpp"
#include "mesher/midside.hpp"
#include "mesher/parent_watch.hpp"
#include "mesher/prism.hpp"
#include "mesher/quads.hpp"
#include "mesher/remesh.hpp"
#include "mesher/sheet.hpp"
#include "mesher/simplify.hpp"
#include "mesher/step_solids.hpp"
#include "mesher/triangulation.hpp"
#include "mesher/wire.hpp"

namespace {

using Json = nlohmann::json;
using namespace anvil::mesher;

TopoDS_Shape shapeOf(const std::string& brepFile) {
  TopoDS_Shape shape;
  if (!BRepTools::Read(shape, brepFile.c_str(), BRep_Builder()))
    throw std::runtime_error("the shape could not be read by the mesher");
  return shape;
}

std::vector<TopoDS_Shape> facesOf(const TopoDS_Shape& shape) {
  TopTools_IndexedMapOfShape map;
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) map.Add(e.Current());
  return {map.cbegin(), map.cend()};
}

/// Places one after the other, three numbers each.
std::vector<double> numbers(const std::vector<Eigen::Vector3d>& places) {
  std::vector<double> all;
  for (const auto& p : places) all.insert(all.end(), p.data(), p.data() + 3);
  return all;
}

/// Asked for in `element`: "tet" (the usual), "hex", or "auto": hexes where the solid can be swept and they come out well.
using Stage = std::function<void(const char*)>;

/// How the outside is come by: face after face as the shape has them; so, with its small details taken out; or from the CAD
/// kernel's own triangles, made even.
enum class Way { faces, simplified, triangles };

Tetrahedra simplyMeshed(const std::string& brep, const TopoDS_Shape& shape, const std::vector<TopoDS_Shape>& faces,
                        const Wishes& w, const Stage& stage) {
  stage("simplifying");
  const auto simple = simplified(shape, w.size / 10);
  if (simple.IsNull()) throw Refusal("nothing of the shape could be simplified", {});
  const std::string file = brep + ".simple";
  BRepTools::Write(simple, file.c_str());
  Wishes without = w;  // its faces are others
  without.faceSize.clear();
  for (double h : w.faceSize)
    if (h > 0) without.size = std::min(without.size, h);
  const auto skin = triangulated(shape, faces, w.size / 20, 0.3);
  auto mesh = tetrahedra(file, facesOf(shapeOf(file)), without, stage);
  std::vector<Eigen::Vector3d> middles;
  for (const auto& t : mesh.triangles)
    middles.push_back((mesh.x[size_t(t.node[0])] + mesh.x[size_t(t.node[1])] + mesh.x[size_t(t.node[2])]) / 3);
  // a face of the simple shape that lies all but wholly on one of the shape's own is that one
  const auto nearest = nearestFaces(skin, middles);
  std::map<int, std::map<int, int>> votes;
  for (size_t t = 0; t < nearest.size(); ++t) ++votes[mesh.triangles[t].face][nearest[t]];
  for (size_t t = 0; t < nearest.size(); ++t) {
    const auto& cast = votes[mesh.triangles[t].face];
    int all = 0, most = 0, winner = nearest[t];
    for (const auto& [face, n] : cast) {
      all += n;
      if (n > most) most = n, winner = face;
    }
    mesh.triangles[t].face = most >= 0.95 * all ? winner : nearest[t];
  }
  return mesh;
}

Tetrahedra evenlyMeshed(const TopoDS_Shape& shape, const std::vector<TopoDS_Shape>& faces, const Wishes& w, const Stage& stage) {
  stage("triangles");
  double size = w.size;
  for (double h : w.faceSize)
    if (h > 0) size = std::min(size, h);
  return filled(remeshed(triangulated(shape, faces, size / 20, 0.3), size), w, stage);
}

/// Volume inside the outer triangles, each taken as four plane ones (Gauss' theorem).
double enclosed(const Quadratic& q) {
  double volume = 0;
  for (const auto& t : q.triangles)
    for (const auto& [a, b, c] : {std::array{0, 3, 5}, {3, 1, 4}, {5, 4, 2}, {3, 4, 5}}) {
      const auto at = [&](int i) -> Eigen::Vector3d { return q.x[size_t(t.node[size_t(i)])] - q.x.front(); };
      volume += at(a).cross(at(b)).dot(at(c)) / 6;
    }
  return std::abs(volume);
}

/// A mesh that has lost or filled in more than a tenth of the solid is a mesh of something else.
void compareVolumes(const Quadratic& q, const TopoDS_Shape& shape) {
  GProp_GProps g;
  BRepGProp::VolumeProperties(shape, g);
  const double meshed = enclosed(q), drawn = std::abs(g.Mass());
  if (std::abs(meshed - drawn) <= 0.1 * drawn) return;
  char words[120];
  std::snprintf(words, sizeof words, "the mesh would hold %.3g mm3 of the solid's %.3g mm3", meshed, drawn);
  throw Refusal(words, {});
}

Json tets(const std::string& brep, const TopoDS_Shape& shape, const std::vector<TopoDS_Shape>& faces, const Wishes& w, Way way,
          const Stage& stage) {
  auto straight = way == Way::faces        ? tetrahedra(brep, faces, w, stage)
                  : way == Way::simplified ? simplyMeshed(brep, shape, faces, w, stage)
                                           : evenlyMeshed(shape, faces, w, stage);
  stage("thin elements");
  improve(straight, 0.25);
  stage("middles");
  const auto q = quadratic(straight, faces);
  compareVolumes(q, shape);
  std::vector<int> cells, triangles, triangleFace;
  Json standOff = Json::array();
  for (const auto& [face, off] : q.standOff) standOff.push_back({face, off});
  for (const auto& c : q.cells) cells.insert(cells.end(), c.begin(), c.end());
  for (const auto& t : q.triangles)
    triangles.insert(triangles.end(), t.node.begin(), t.node.end()), triangleFace.push_back(t.face);
  return {{"x", numbers(q.x)},      {"cells", cells},
          {"triangles", triangles}, {"face", triangleFace},
          {"stand off", standOff},  {"closed over", straight.closedOver},
          {"worst", q.worst},       {"worst place", std::vector<double>(q.worstPlace.data(), q.worstPlace.data() + 3)}};
}

/// Borders of the layers along a prism's axis, as shares of its height: by the element size, smaller beside places that want it,
/// growing by no more than half from layer to layer.
std::vector<double> layerBorders(const Prism& prism, const Wishes& w, double layer) {
  const Eigen::Vector3d axis = prism.u.cross(prism.v);
  const auto wanted = [&](double z) {
    double h = layer;
    for (const auto& n : w.near) {
      const double away = std::max(0., std::abs(axis.dot(n.at - prism.origin) - z) - n.within);
      h = std::min(h, n.size + 0.4 * away);
    }
    return h;
  };
  constexpr int fine = 4000;
  std::vector<double> sum{0};  // layers up to each of many heights
  for (int k = 0; k < fine; ++k) sum.push_back(sum.back() + prism.height / fine / wanted((k + 0.5) * prism.height / fine));
  const int layers = std::clamp(int(std::lround(sum.back())), std::max(1, w.fewestLayers), 100000);
  std::vector<double> borders{0};
  for (int k = 1, at = 0; k < layers; ++k) {
    const double until = sum.back() * k / layers;
    while (sum[size_t(at) + 1] < until) ++at;
    const auto i = size_t(at);
    borders.push_back((at + (until - sum[i]) / (sum[i + 1] - sum[i])) / fine);
  }
  borders.push_back(1);
  return borders;
}

/// Borders of the layers along a wire, as shares of its length: stretches between faces have their own, of the size or less where
/// it bends.
std::vector<double> layerBorders(const Wire& wire, const Wishes& w, double layer) {
  const double length = wire.end.height;
  std::vector<double> borders{0};
  for (const auto& s : wire.stretches) {
    double turned = 0;
    for (size_t i = 1; i < s.section.size(); ++i) {
      const auto way = [&](size_t k) -> Eigen::Vector3d { return s.section[k].u.cross(s.section[k].v); };
      turned += std::acos(std::clamp(way(i).dot(way(i - 1)), -1., 1.));
    }
    const int count =
        std::clamp(int(std::lround(std::max((s.to - s.from) / layer, turned / (2 * M_PI) * w.perCircle))), 1, 100000);
    for (int k = 1; k <= count; ++k) borders.push_back((s.from + (s.to - s.from) * k / count) / length);
  }
  return borders;
}

/// Where a wire's layers lie, at their borders and halfway, and the faces round each.
void putSections(const Wire& wire, Json& j) {
  const std::vector<double> borders = j.at("layers");
  std::vector<double> sections;
  std::vector<int> round;
  const auto put = [&](double share) {
    const auto s = wire.at(share * wire.end.height);
    for (const auto& v : {s.middle, s.u, s.v}) sections.insert(sections.end(), v.data(), v.data() + 3);
  };
  for (size_t k = 0; k + 1 < borders.size(); ++k) {
    const double half = (borders[k] + borders[k + 1]) / 2;
    put(borders[k]), put(half);
    for (const double angle : wire.rimAngles) round.push_back(wire.faceAt(half * wire.end.height, angle));
  }
  put(1);
  j["sections"] = sections, j["round"] = round;
}

/// The end of a prism or wire in quads, and how it is to be pulled. Null when the solid is neither or no sound quads are found.
Json quads(const std::string& brep, const std::vector<TopoDS_Shape>& faces, const Wishes& w, const Stage& stage) {
  stage("sweeping");
  auto prism = prismOf(faces);
  std::optional<Wire> wire;
  if (!prism && w.near.empty() && (wire = wireOf(faces))) prism = wire->end;
  if (!prism) return {};
  std::optional<Quads> q;
  if (w.near.empty()) q = regularQuads(*prism, w);
  if (!q && wire) return {};
  if (!q) {  // each triangle's edge is parted once more
    const Eigen::Vector3d axis = prism->u.cross(prism->v);
    for (const double finer : {1., 0.7, 0.5}) {
      Wishes coarse = w;
      coarse.size *= 2 * finer, coarse.smallest *= 2 * finer, coarse.perCircle /= 2 * finer;
      for (double& h : coarse.faceSize) h *= 2 * finer;
      for (auto& n : coarse.near)
        n.size *= 2 * finer, n.at -= axis.dot(n.at - prism->origin) * axis;  // layers have the end's divisions
      auto now = quadsOfTriangles(*prism, surfaceOnly(brep, faces, coarse, stage));
      if (!q || now.worst > q->worst) q = std::move(now);
      if (q->worst > 0.25) break;
    }
  }
  if (q->worst < 0.2) return {};
  double layer = w.size;
  for (const auto& e : prism->ends)
    for (int f : {e.low, e.high})
      if (size_t(f) < w.faceSize.size() && w.faceSize[size_t(f)] > 0) layer = std::min(layer, w.faceSize[size_t(f)]);
  Json j{{"height", prism->height},
         {"layers", wire ? layerBorders(*wire, w, layer) : layerBorders(*prism, w, layer)},
         {"worst", q->worst}};
  const auto put = [&](const char* name, const Eigen::Vector3d& v) { j[name] = std::vector<double>(v.data(), v.data() + 3); };
  put("origin", prism->origin), put("u", prism->u), put("v", prism->v), put("worst place", prism->space(q->worstPlace));
  std::vector<double> x;
  std::vector<int> cells, low, high, sides;
  for (const auto& p : q->x) x.push_back(p.x()), x.push_back(p.y());
  for (const auto& c : q->cells) cells.insert(cells.end(), c.begin(), c.end());
  for (int e : q->end) low.push_back(prism->ends[size_t(e)].low), high.push_back(prism->ends[size_t(e)].high);
  for (const auto& s : q->sides) sides.insert(sides.end(), {s.cell, s.side, wire ? s.rim : prism->rims[size_t(s.rim)].side});
  j["x"] = x, j["cells"] = cells, j["low"] = low, j["high"] = high, j["sides"] = sides;
  if (wire) putSections(*wire, j);
  return j;
}

/// Faces in quads, with the way across at their corners.
Json sheet(const std::string& brep, const std::vector<TopoDS_Shape>& faces, const std::vector<int>& wanted, const Wishes& w,
           const Stage& stage) {
  const auto s = sheetOf(brep + ".sheet", faces, wanted, w, stage);
  std::vector<double> normals;
  std::vector<int> cells, on, rims;
  for (const auto& c : s.cells) cells.insert(cells.end(), c.begin(), c.end());
  for (const auto& list : s.normal)
    for (const auto& n : list) normals.insert(normals.end(), n.data(), n.data() + 3);
  for (int f : s.face) on.push_back(wanted[size_t(f)]);
  for (const auto& r : s.rims) rims.insert(rims.end(), {r.cell, r.side, r.beyond});
  return {{"x", numbers(s.x)},
          {"cells", cells},
          {"face", on},
          {"normals", normals},
          {"rims", rims},
          {"worst", s.worst},
          {"worst place", std::vector<double>(s.worstPlace.data(), s.worstPlace.data() + 3)}};
}

Json mesh(const Json& job) {
  const std::string brep = job.at("shape"), element = job.value("element", "tet");
  const auto shape = shapeOf(brep);
  const auto faces = facesOf(shape);
  const std::string asked = job.value("way", "faces");
  const Way way = asked == "simplified" ? Way::simplified : asked == "triangles" ? Way::triangles : Way::faces;
  Wishes w;
  w.size = job.at("size"), w.smallest = job.value("smallest", 0.), w.grading = job.value("grading", w.grading),
  w.perCircle = job.value("per circle", w.perCircle);
  w.nearEdges = job.value("near edges", false);
  w.optimise = job.value("optimise", w.optimise), w.faceSize = job.value("face sizes", std::vector<double>{}),
  w.fewestLayers = job.value("fewest layers", w.fewestLayers);
  for (const auto& n : job.value("near", Json::array()))
    w.near.push_back(
        {Eigen::Vector3d(n[0].get<double>(), n[1].get<double>(), n[2].get<double>()), n[3].get<double>(), n[4].get<double>()});
  const auto stage = [](const char* words) { std::fprintf(stderr, "%s\n", words), std::fflush(stderr); };
  if (element == "sheet") return sheet(brep, faces, job.at("sheet"), w, stage);
  if (element != "tet" && way == Way::faces) {
    try {
      if (Json j = quads(brep, faces, w, stage); !j.is_null()) return j;
    } catch (const std::exception&) {
      if (element == "hex") throw;
    }
    if (element == "hex")
      return {{"unfit", true},
              {"error",
               "the solid cannot be swept: it is no round wire, and not all its faces are either two equal plane ends or run "
               "straight from one to the other, or no sound quads fit its ends"}};
  }
  return tets(brep, shape, faces, w, way, stage);
}

/// Solids of a STEP file as one shape, and what there is to say of each.
Json solids(const std::string& file) {
  Json list = Json::array();
  TopoDS_Compound all;
  BRep_Builder builder;
  builder.MakeCompound(all);
  for (const auto& s : solidsOfStep(file)) {
    builder.Add(all, s.shape);
    list.push_back({{"name", s.name}, {"healing", s.healing}, {"sheet", s.sheet}});
  }
  std::ostringstream shape;
  BinTools::Write(all, shape);
  const std::string bytes = shape.str();
  return {{"solids", list}, {"shape", Json::binary({bytes.begin(), bytes.end()})}};
}

Json done(const Json& job) {
  limit(job.value("seconds", 0), job.value("megabytes", size_t(0)));  // of processor time: a busy machine changes nothing
  return job.contains("step") ? solids(job.at("step")) : mesh(job);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 3) return std::fprintf(stderr, "usage: anvil-mesher JOB RESULT\n"), 2;
  anvil::secureProcess();
  const int nowhere = open("/dev/null", O_WRONLY);
  if (nowhere >= 0) dup2(nowhere, STDOUT_FILENO);  // the library talks
  Json result;
  try {
    std::ifstream in(argv[1], std::ios::binary);
    const std::vector<char> bytes{std::istreambuf_iterator<char>(in), {}};
    endWithParent(std::filesystem::path(argv[1]).parent_path());
    result = done(Json::from_cbor(bytes));
  } catch (const StepFault& e) {
    result = {{"error", e.what()}, {"remedy", e.remedy}, {"solid", e.solid}, {"name", e.name}};
  } catch (const std::bad_alloc&) {
    result = {{"error", "needs more memory than there is for it"}, {"remedy", "It may be damaged; or close other programs."}};
  } catch (const Standard_Failure& e) {
    result = {{"error", std::string("the shape cannot be worked with (") + e.GetMessageString() + ")"}};
  } catch (const Refusal& e) {
    result = {{"error", e.what()}, {"faces", e.faces}};
  } catch (const std::exception& e) {
    result = {{"error", e.what()}};
  }
  const auto bytes = Json::to_cbor(result);
  std::ofstream out(argv[2], std::ios::binary);
  out.write(reinterpret_cast<const char*>(bytes.data()), std::streamsize(bytes.size()));
  out.close();
  std::_Exit(!out ? 2 : result.contains("error") ? 1 : 0);  // without the libraries' long farewells
}
