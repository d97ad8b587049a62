// Round wires of STEP files: coils and bent rods are swept in hexes along their way, whatever surfaces they are written as.
#include <gtest/gtest.h>

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepLib.hxx>
#include <BRepOffsetAPI_MakePipe.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <GC_MakeArcOfCircle.hxx>
#include <Geom2d_Line.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <STEPControl_Writer.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Wire.hxx>
#include <cmath>
#include <cstdlib>
#include <gp_Ax2.hxx>
#include <gp_Ax3.hxx>
#include <gp_Circ.hxx>
#include <numbers>

#include "core/geometry/solid.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "scratch.hpp"

using namespace anvil;
using Eigen::Vector3d;

namespace {

using std::numbers::pi;

class StepWire : public ScratchCache {
 protected:
  model::Document taken(const TopoDS_Shape& shape, const std::string& fineness = "usual") {
    const auto file = (folder / "wire.step").string();
    STEPControl_Writer writer;
    writer.Transfer(shape, STEPControl_AsIs);
    EXPECT_EQ(writer.Write(file.c_str()), IFSelect_RetDone);
    return model::parse(R"({"anvil": 1, "space": "solid", "fineness": ")" + fineness +
                        R"(", "materials": {"m": {"elastic": {"E": 1, "nu": 0.3}}}, "steps": {"s": {}},
      "parts": {"p": {"material": "m", "solid": [{"step": {"file": ")" +
                        file + R"("}, "name": "w"}]}}})");
  }
};

TopoDS_Shape piped(const TopoDS_Wire& way, const gp_Pnt& start, const gp_Dir& along, double radius) {
  const TopoDS_Edge rim = BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(start, along), radius));
  const TopoDS_Face end = BRepBuilderAPI_MakeFace(BRepBuilderAPI_MakeWire(rim).Wire());
  return BRepOffsetAPI_MakePipe(way, end, GeomFill_IsFrenet, true).Shape();
}

/// A coil about z; `pieces` edges one after the other.
TopoDS_Shape coil(double radius, double wire, double pitch, double turns, int pieces) {
  Handle(Geom_CylindricalSurface) cylinder = new Geom_CylindricalSurface(gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), radius);
  Handle(Geom2d_Line) line = new Geom2d_Line(gp_Pnt2d(0, 0), gp_Dir2d(2 * pi, pitch));
  const double whole = turns * std::hypot(2 * pi, pitch);
  BRepBuilderAPI_MakeWire way;
  for (int k = 0; k < pieces; ++k) {
    const TopoDS_Edge e = BRepBuilderAPI_MakeEdge(line, cylinder, whole * k / pieces, whole * (k + 1) / pieces);
    BRepLib::BuildCurves3d(e);
    way.Add(e);
  }
  return piped(way, gp_Pnt(radius, 0, 0), gp_Dir(0, 2 * pi * radius, pitch), wire);
}

/// Nodes of all hexes' outer sides that lie on no flat end are this far from the middle line.
void expectRound(const mesh::Mesh& m, const std::function<double(const Vector3d&)>& off, double radius) {
  double worst = 0;
  size_t count = 0;
  for (const auto& face : m.faces)
    for (const auto& f : face.facets)
      if (f.side >= 2)
        for (int n : m.nodesOf(f)) worst = std::max(worst, std::abs(off(m.x[size_t(n)]) - radius)), ++count;
  EXPECT_GT(count, 100u);
  EXPECT_LT(worst, 2e-3 * radius);
}

/// Its mesh, of sound hexes alone.
mesh::Mesh swept(const model::Document& d) {
  auto m = analysis::buildMesh(d, model::Quantities(d));
  EXPECT_EQ(m.blocks.size(), 1u);
  EXPECT_EQ(m.blocks.front().type, mesh::Cell::hex20);
  EXPECT_GT(mesh::quality(m, m.blocks.front()).leastScaledJacobian, 0.5);
  return m;
}

double wireArea(const mesh::Mesh& m, const std::string& name) {
  double sum = 0;
  for (const auto* face : m.facesNamed(name))
    for (const auto& f : face->facets) {
      const auto n = m.nodesOf(f);
      const auto x = [&](size_t i) { return m.x[size_t(n[i])]; };
      // four corners and four middles: four triangles round the middle's place
      const Vector3d c = (x(4) + x(5) + x(6) + x(7)) / 2 - (x(0) + x(1) + x(2) + x(3)) / 4;
      for (size_t k = 0; k < 4; ++k)
        sum += ((x(k) - c).cross(x(4 + k) - c).norm() + (x(4 + k) - c).cross(x((k + 1) % 4) - c).norm()) / 2;
    }
  return sum;
}

TEST_F(StepWire, ACoilIsSweptWhateverItsFaces) {
  const double R = 8, r = 1, pitch = 4;
  for (const int pieces : {1, 3}) {
    SCOPED_TRACE(pieces);
    const auto d = taken(coil(R, r, pitch, 4, pieces), pieces == 1 ? "draft" : "usual");
    const auto m = swept(d);
    // distance from the nearest point of the helix, by Newton's method on its angle
    expectRound(
        m,
        [&](const Vector3d& x) {
          double best = 1e300;
          for (int turn = -1; turn <= 5; ++turn) {
            double a = std::atan2(x.y(), x.x()) + 2 * pi * turn;
            const auto on = [&](double t) { return Vector3d(R * std::cos(t), R * std::sin(t), pitch * t / (2 * pi)); };
            for (int i = 0; i < 30; ++i) {
              const Vector3d way(-R * std::sin(a), R * std::cos(a), pitch / (2 * pi));
              a += (x - on(a)).dot(way) / way.squaredNorm();
            }
            best = std::min(best, (x - on(a)).norm());
          }
          return best;
        },
        r);
    double area = 0;
    const auto solid = geometry::solid(d.parts.front().second, model::Quantities(d), "", "parts/p");
    ASSERT_EQ(solid.faces().size(), size_t(pieces) + 2);
    for (const auto& face : solid.faces()) {
      const double meshed = wireArea(m, "p." + face.name);
      EXPECT_NEAR(meshed, face.area, 0.03 * face.area) << face.name << ": each has what is its own";
      area += meshed;
    }
    EXPECT_NEAR(area, 2 * pi * r * 4 * std::hypot(2 * pi * R, pitch) + 2 * pi * r * r, 0.02 * area);
  }
}

/// A rod of radius 2 along x, round a quarter circle to x = 30, along y to 25.
TopoDS_Shape bent(double radius) {
  const double x = 30 - radius, k = radius / std::sqrt(2.);
  BRepBuilderAPI_MakeWire way;
  way.Add(BRepBuilderAPI_MakeEdge(gp_Pnt(0, 0, 0), gp_Pnt(x, 0, 0)));
  way.Add(
      BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(gp_Pnt(x, 0, 0), gp_Pnt(x + k, radius - k, 0), gp_Pnt(30, radius, 0)).Value()));
  way.Add(BRepBuilderAPI_MakeEdge(gp_Pnt(30, radius, 0), gp_Pnt(30, 25, 0)));
  return piped(way, gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0), 2);
}

TEST_F(StepWire, ABendAsTightAsTheRodIsThickIsNotSwept) {
  const auto d = taken(bent(2.4));
  const auto m = analysis::buildMesh(d, model::Quantities(d));
  EXPECT_EQ(m.blocks.front().type, mesh::Cell::tet10);
  EXPECT_GT(mesh::quality(m, m.blocks.front()).leastScaledJacobian, 0.02);
}

TEST_F(StepWire, ABentRodIsSweptThroughItsStraightsAndBends) {
  const auto d = taken(bent(10));
  const auto m = swept(d);
  expectRound(
      m,
      [](const Vector3d& x) {
        if (x.x() <= 20) return Vector3d(0, x.y(), x.z()).norm();
        if (x.y() >= 10) return Vector3d(x.x() - 30, 0, x.z()).norm();
        return std::hypot(std::hypot(x.x() - 20, x.y() - 10) - 10, x.z());
      },
      2);
  const auto solid = geometry::solid(d.parts.front().second, model::Quantities(d), "", "parts/p");
  for (const auto& face : solid.faces()) EXPECT_NEAR(wireArea(m, "p." + face.name), face.area, 0.03 * face.area) << face.name;
}

TEST_F(StepWire, WhatIsNoWireIsMeshedAsBefore) {
  const auto d = taken(BRepPrimAPI_MakeCone(3., 2., 10.).Shape());
  const auto m = analysis::buildMesh(d, model::Quantities(d));
  EXPECT_EQ(m.blocks.front().type, mesh::Cell::tet10);
}

}  // namespace
