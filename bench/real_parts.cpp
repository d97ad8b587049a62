// Real parts: how long it takes to find what touches among many parts, and to mesh a solid against the mesher library's own time.
//   parts-bench [PARTS [TETRAHEDRA]]
#include <fmt/format.h>
#include <chrono>
#include <cstdlib>
#include <filesystem>

#include "core/checks/touching.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"
#include "core/problem/problem.hpp"

using namespace anvil;
using Clock = std::chrono::steady_clock;

static double since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

/// A wall of bricks, each with its pin.
static void touching(int parts) {
  model::Document d = model::parse(
      R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1, "nu": 0.3}}}, "parts": {}, "steps": {"s": {}}})");
  for (int i = 0; i < parts; ++i) {
    auto& part = d.parts("brick " + std::to_string(i));
    part.material = "m", part.element = "hex8";
    model::Shape s;
    s.rectangle = model::Rectangle{{10. * (i % 20) + 5. * (i / 20 % 2), 6. * (i / 20)}, {10, 6}};
    part.shape = {s}, part.mesh.size = 1, part.extrude = model::Extrude{};
    part.extrude->depth = 8;
  }
  const auto mesh = analysis::buildMesh(d, model::Quantities(d));
  size_t facets = 0;
  for (const auto& f : mesh.faces) facets += f.facets.size();
  const auto start = Clock::now();
  const auto found = checks::findTouching(mesh, d, 0.1);
  fmt::print("what touches: {} parts, {} facets, {} pairs found in {:.2f} s\n", parts, facets, found.size(), since(start));
}

static void meshing(double wanted) {
  const auto cache = std::filesystem::temp_directory_path() / "anvil-parts-bench";
  std::filesystem::remove_all(cache);
  setenv("XDG_CACHE_HOME", cache.c_str(), 1);
  auto d = model::parse(
      R"({"anvil": 1, "space": "solid", "parameters": {"h": 3}, "materials": {"m": {"elastic": {"E": 1, "nu": 0.3}}}, "steps": {
        "s": {}},
    "parts": {"p": {"material": "m", "element": "tet10", "mesh": {"size": "=h"}, "solid": [{"box": {"size": [60, 40, 30]},
      "name": "b"},
      {"cylinder": {"from": [20, 20, -1], "to": [20, 20, 31], "radius": 9}, "how": "cut", "name": "hole"}, {"fillet": {
        "between": ["b.top", "b.right"], "radius": 6}}]}}})");
  model::setParameter(d, fmt::format("h={}", std::cbrt(64000 * 4 / wanted)));
  std::vector<std::pair<std::string, double>> stages;
  const auto start = Clock::now();
  const auto mesh = analysis::buildMesh(d, model::Quantities(d), [&](const std::string& stage) {
    if (!stage.empty() && (stages.empty() || stages.back().first != stage)) stages.emplace_back(stage, since(start));
    return true;
  });
  const double whole = since(start);
  fmt::print("meshing: {} tetrahedra in {:.2f} s\n", mesh.blocks.front().count(), whole);
  for (size_t i = 0; i < stages.size(); ++i)
    fmt::print("  {:<28} {:.2f} s\n", stages[i].first, (i + 1 < stages.size() ? stages[i + 1].second : whole) - stages[i].second);
  const auto again = Clock::now();
  (void)analysis::buildMesh(d, model::Quantities(d));
  fmt::print("  the same again, kept         {:.2f} s\n", since(again));
  std::filesystem::remove_all(cache);
}

int main(int argc, char** argv) {
  touching(argc > 1 ? std::atoi(argv[1]) : 200);
  meshing(argc > 2 ? std::atof(argv[2]) : 100e3);
}
