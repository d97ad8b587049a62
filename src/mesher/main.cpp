// anvil-mesher JOB RESULT: fills one solid with ten-node tetrahedra, in a process of its own: the mesher library keeps its
// state in globals, prints, and cannot be stopped otherwise. Job and result are CBOR; stages go to standard error, a line each.
// Exit code 0 done, 1 refused (the reason is in the result).
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <cstdio>
#include <fcntl.h>
#include <fstream>
#include <iterator>
#include <nlohmann/json.hpp>
#include <stdexcept>
#include <unistd.h>

#include "mesher/improve.hpp"
#include "mesher/midside.hpp"

namespace {

using Json = nlohmann::json;
using namespace anvil::mesher;

std::vector<TopoDS_Shape> facesOf(const std::string& brepFile) {
  TopoDS_Shape shape;
  if (!BRepTools::Read(shape, brepFile.c_str(), BRep_Builder())) throw std::runtime_error("the shape could not be read by the mesher");
  TopTools_IndexedMapOfShape map;
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) map.Add(e.Current());
  return {map.cbegin(), map.cend()};
}

Json mesh(const Json& job) {
  const std::string brep = job.at("shape");
  const auto faces = facesOf(brep);
  Wishes w;
  w.size = job.at("size"), w.smallest = job.value("smallest", 0.), w.grading = job.value("grading", w.grading), w.perCircle = job.value("per circle", w.perCircle);
  w.optimise = job.value("optimise", w.optimise), w.faceSize = job.value("face sizes", std::vector<double>{});
  const auto stage = [](const char* words) { std::fprintf(stderr, "%s\n", words), std::fflush(stderr); };
  auto straight = tetrahedra(brep, faces, w, stage);
  stage("thin elements");
  improve(straight, 0.25);
  stage("middles");
  const auto q = quadratic(straight, faces);
  std::vector<double> x;
  std::vector<int> cells, triangles, triangleFace;
  for (const auto& p : q.x) x.insert(x.end(), p.data(), p.data() + 3);
  for (const auto& c : q.cells) cells.insert(cells.end(), c.begin(), c.end());
  for (const auto& t : q.triangles) triangles.insert(triangles.end(), t.node.begin(), t.node.end()), triangleFace.push_back(t.face);
  return {{"x", x}, {"cells", cells}, {"triangles", triangles}, {"face", triangleFace}, {"straightened", q.straightened}, {"worst", q.worst}, {"worst place", std::vector<double>(q.worstPlace.data(), q.worstPlace.data() + 3)}};
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 3) return std::fprintf(stderr, "usage: anvil-mesher JOB RESULT\n"), 2;
  const int nowhere = open("/dev/null", O_WRONLY);
  if (nowhere >= 0) dup2(nowhere, STDOUT_FILENO);   // the library talks
  Json result;
  try {
    std::ifstream in(argv[1], std::ios::binary);
    const std::vector<char> bytes{std::istreambuf_iterator<char>(in), {}};
    result = mesh(Json::from_cbor(bytes));
  } catch (const Standard_Failure& e) {
    result = {{"error", std::string("the shape cannot be worked with (") + e.GetMessageString() + ")"}};
  } catch (const std::exception& e) {
    result = {{"error", e.what()}};
  }
  const auto bytes = Json::to_cbor(result);
  std::ofstream out(argv[2], std::ios::binary);
  out.write(reinterpret_cast<const char*>(bytes.data()), std::streamsize(bytes.size()));
  out.close();
  std::_Exit(!out ? 2 : result.contains("error") ? 1 : 0);   // without the libraries' long farewells
}
