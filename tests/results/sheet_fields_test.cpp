// Fields of thin parts against closed forms: thickness of a stretched sheet, section forces of sheets that are pulled, bent,
// sheared.
#include "core/results/sheet_fields.hpp"

#include <gtest/gtest.h>

#include <cmath>

#include "core/base/quadrature.hpp"
#include "meshes.hpp"

using namespace anvil;

namespace {

mesh::Mesh sheetOf(const std::string& place, bool triangles, int points = 5) {
  return meshOfSolidPart(R"({"shape": {"rectangle": {"at": [0, 0], "size": [4, 2]}}, "mesh": {"count": [4, 2]}, "thin": {
    "thickness": 0.5, "points": )" +
                         std::to_string(points) + (triangles ? R"(, "cells": "triangles")" : "") + "}" + place + "}");
}

/// Stresses at all points, by place across the sheet from -1 to 1: 11, 22, 33, 12, 23, 13.
std::vector<float> stresses(const mesh::Mesh& m, const std::function<std::array<double, 6>(double)>& at) {
  std::vector<float> all;
  for (const auto& b : m.blocks)
    for (size_t c = 0; c < b.count(); ++c)
      for (const auto& [zeta, weight] : gaussLine(b.through))
        for (int p = 0; p < mesh::info(b.type).nodes / 2; ++p)
          for (double v : at(zeta)) all.push_back(float(v));
  return all;
}

}  // namespace

TEST(SheetFields, ThicknessFollowsAStretchAndATurn) {
  for (const bool triangles : {false, true}) {
    const auto m = sheetOf("", triangles);
    // turned by a right angle about x, drawn to 1.3 along its width, thinned to 0.8
    std::vector<float> u;
    for (const auto& x : m.x)
      for (const double v : {x.x() - x.x(), -0.8 * x.z() - x.y(), 1.3 * x.y() - x.z()}) u.push_back(float(v));
    for (double t : results::sheetThickness(m, u, false)) EXPECT_NEAR(t, 0.4, 1e-6);
    for (double t : results::sheetThickness(m, u, true)) EXPECT_NEAR(t, 20, 1e-4);
  }
}

TEST(SheetFields, AFoldIsAsThickAsItsSheet) {
  const auto m = meshOfSolidPart(
      R"({"shape": {"profile": {"start": [0, 0], "path": [{"line": [5, 0]}, {"line": [5, 5]}]}}, "mesh": {"size": 1},
          "extrude": {"depth": 2}, "thin": {"thickness": 0.5}})");
  const std::vector<float> none(3 * m.x.size(), 0);
  for (double t : results::sheetThickness(m, none, false)) EXPECT_NEAR(t, 0.5, 1e-12);
}

TEST(SheetFields, SectionForcesAreIntegralsOverTheThickness) {
  for (const bool triangles : {false, true})
    for (const int points : {2, 5}) {
      const auto m = sheetOf("", triangles, points);
      const std::vector<float> none(3 * m.x.size(), 0);
      const auto s = stresses(m, [](double zeta) { return std::array{10 + 6 * zeta, 4 - 3 * zeta, 0., 2 * zeta, 7., 5.}; });
      const auto all = [&](const char* name, double value) {
        const auto v = results::sectionForces(m, name, none, s);
        size_t nodes = 0;
        for (const auto& b : m.blocks) nodes += b.nodes.size();
        ASSERT_EQ(v.size(), nodes);
        for (double at : v) EXPECT_NEAR(at, value, 1e-5) << name;
      };
      const double t = 0.5;
      all("membrane force 1", 10 * t), all("membrane force 2", 4 * t), all("membrane force 12", 0);
      all("bending moment 1", 6 * t * t / 6), all("bending moment 2", -3 * t * t / 6), all("bending moment 12", 2 * t * t / 6);
      all("transverse shear 1", 5 * t), all("transverse shear 2", 7 * t);
    }
}

TEST(SheetFields, AxesFollowTheSheet) {
  // a sheet that faces along x: its first direction is that of y, its second z
  const auto m = sheetOf(R"(, "place": {"axis": "y", "angle": "90 deg"})", false);
  const std::vector<float> none(3 * m.x.size(), 0);
  const auto s = stresses(m, [](double) { return std::array{99., 8., 3., 0., 2., 0.}; });
  EXPECT_NEAR(results::sectionForces(m, "membrane force 1", none, s)[0], 4, 1e-5);
  EXPECT_NEAR(results::sectionForces(m, "membrane force 2", none, s)[0], 1.5, 1e-5);
  EXPECT_NEAR(std::abs(results::sectionForces(m, "membrane force 12", none, s)[0]), 1, 1e-5);
}

TEST(SheetFields, SidesAndMiddleComeFromThePoints) {
  for (const bool triangles : {false, true})
    for (const int points : {2, 4, 5}) {
      const auto m = sheetOf("", triangles, points);
      const auto& b = m.blocks[0];
      const int half = mesh::info(b.type).nodes / 2;
      std::vector<double> p;
      for (const auto& [zeta, weight] : gaussLine(points))
        for (int i = 0; i < half; ++i) p.push_back(3 + 2 * zeta);
      double n[8];
      results::extrapolate(b, p.data(), n);
      for (int i = 0; i < half; ++i) {
        EXPECT_NEAR(n[i], 1, 1e-12);
        EXPECT_NEAR(n[i + half], 5, 1e-12);
      }
      results::toMiddle(b, p.data(), n);
      for (int i = 0; i < 2 * half; ++i) EXPECT_NEAR(n[i], 3, 1e-12);
    }
}
