// Costs of the innermost pieces.
#include <benchmark/benchmark.h>

#include "core/contact/plane_kernel.hpp"
#include "core/contact/space_kernel.hpp"
#include "core/element/block.hpp"
#include "core/material/log_strain.hpp"

using namespace anvil;

static void elementTangent(benchmark::State& state, mesh::Cell type, bool large) {
  std::vector<Eigen::Vector3d> x{{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {.5, 0, 0}, {1, .5, 0}, {.5, 1, 0}, {0, .5, 0}};
  mesh::Block cells{type, 0, {0, 1, 2, 3}};
  if (type == mesh::Cell::quad8) cells.nodes = {0, 1, 2, 3, 4, 5, 6, 7};
  material::J2Law law;
  law.elastic = material::ElasticLaw::fromYoung(200000, 0.3);
  law.hardening.add(0, 250), law.hardening.add(1, 500);
  auto block = element::makeBlock(cells, x, {element::Space::planeStrain, large, 1}, law);
  std::vector<double> u(16, 0), r(16), K(256);
  for (size_t i = 0; i < 16; ++i) u[i] = 0.01 * double(i % 5);
  for (auto _ : state) benchmark::DoNotOptimize(block->integrate(0, u.data(), r.data(), K.data(), false));
}
BENCHMARK_CAPTURE(elementTangent, quad4_large, mesh::Cell::quad4, true);
BENCHMARK_CAPTURE(elementTangent, quad8_large, mesh::Cell::quad8, true);
BENCHMARK_CAPTURE(elementTangent, quad4_small, mesh::Cell::quad4, false);

/// Cells in space; `through` > 0: thin ones with so many points through the thickness.
static void spaceTangent(benchmark::State& state, mesh::Cell type, int through, bool yielding) {
  std::vector<Eigen::Vector3d> x;
  for (const double z : {0., 0.1})
    for (const auto& [a, b] : {std::pair{0., 0.}, {1., 0.}, {1., 1.}, {0., 1.}}) x.emplace_back(a, b, z);
  mesh::Block cells{type, 0, {0, 1, 2, 3, 4, 5, 6, 7}, through, 0.1};
  if (type == mesh::Cell::wedge6) cells.nodes = {0, 1, 2, 4, 5, 6};
  material::J2Law law;
  law.elastic = material::ElasticLaw::fromYoung(200000, 0.3);
  law.hardening.add(0, yielding ? 250 : 1e9), law.hardening.add(1, yielding ? 500 : 2e9);
  auto block = element::makeBlock(cells, x, {element::Space::solid, true, 1}, law);
  std::vector<double> u(24, 0), r(24), K(576), shift(24);
  for (size_t i = 0; i < 24; ++i) u[i] = 0.002 * double(i % 5);
  for (auto _ : state) benchmark::DoNotOptimize(block->integrate(0, u.data(), r.data(), K.data(), false, {-1, shift.data()}));
}
BENCHMARK_CAPTURE(spaceTangent, hex8, mesh::Cell::hex8, 0, false);
BENCHMARK_CAPTURE(spaceTangent, hex8_yielding, mesh::Cell::hex8, 0, true);
BENCHMARK_CAPTURE(spaceTangent, thin_hex8_2, mesh::Cell::hex8, 2, false);
BENCHMARK_CAPTURE(spaceTangent, thin_hex8_5, mesh::Cell::hex8, 5, false);
BENCHMARK_CAPTURE(spaceTangent, thin_hex8_5_yielding, mesh::Cell::hex8, 5, true);
BENCHMARK_CAPTURE(spaceTangent, thin_wedge6_5, mesh::Cell::wedge6, 5, false);

static void logStrain(benchmark::State& state) {
  material::Mat3 F = material::Mat3::Identity();
  F(0, 1) = 0.3, F(1, 1) = 1.2;
  const material::Mat6 C = material::ElasticLaw::fromYoung(200000, 0.3).stiffness();
  for (auto _ : state) {
    const material::LogStrain log(F);
    benchmark::DoNotOptimize(log.tangent(C * log.strain(), C));
  }
}
BENCHMARK(logStrain);

static void facingSegments(benchmark::State& state) {
  contact::SlavePatch s;
  s.hasBefore = s.hasAfter = true;
  const double xs[5] = {2, 1, 0, 1, -1};
  for (size_t i = 0; i < 5; ++i) s.node[i].now = s.node[i].before = {xs[i], 0};
  contact::MasterPatch m;
  m.node[0].now = {-.3, .01}, m.node[1].now = {.8, .01}, m.node[2] = m.node[0];
  contact::SegmentIntegral q;
  for (auto _ : state) {
    q.clear(16);
    contact::integrateFacing(s, m, {1, 1}, {0, 0}, 1, {}, q);
    benchmark::DoNotOptimize(q);
  }
}
BENCHMARK(facingSegments);

/// Two faces in space whose overlap has eight corners at most, loaded and with friction: all slopes, values alone, and over
/// points that stay with the material or slide on the master.
enum class Way { slopes, values, held, sliding, heldValues };
static void facingFaces(benchmark::State& state, int corners, bool quadratic, Way way) {
  const auto face = [&](double aside, double half, double height, bool up) {
    std::vector<Eigen::Vector2d> at{{-1, -1}, {1, -0.9}, {1.1, 1}, {-1, 1}};
    if (corners == 3) at = {{-1, -1}, {1.2, -0.8}, {-0.7, 1.3}};
    if (!up) std::reverse(at.begin(), at.end());
    contact::SpaceFace f;
    f.corners = corners, f.nodes = quadratic ? 2 * corners : corners;
    for (int i = 0; i < f.nodes; ++i) {
      const auto &a = at[size_t(i % corners)], &b = at[size_t((i + 1) % corners)];
      const Eigen::Vector2d p = half * (i < corners ? a : Eigen::Vector2d((a + b) / 2));
      f.now[size_t(i)] = {aside + p.x(), aside + p.y(), height + 0.02 * p.x() * p.y()};
      f.before[size_t(i)] = f.now[size_t(i)] + Eigen::Vector3d(0.001 * i, 0.002, 0);
    }
    return f;
  };
  const auto slave = face(0, 1, 0, true), master = face(0.5, 1.2, 0.01, false);
  std::array<contact::CornerTraction, 4> traction;
  for (auto& t : traction) t = {3, {0.5, 0.2, 0}};
  const auto points = contact::pointsShared(slave, master, 1);
  const auto depend = way == Way::values || way == Way::heldValues ? contact::Depend::forces : contact::Depend::slopes;
  const auto follow = way == Way::sliding ? contact::Follow::sliding : contact::Follow::held;
  for (auto _ : state) {
    contact::FaceIntegral q;
    if (way == Way::slopes || way == Way::values)
      contact::integrateFaces(slave, master, traction, 1, true, q, depend);
    else
      contact::integratePoints(slave, master, points, follow, traction, true, q, depend);
    benchmark::DoNotOptimize(q);
  }
}
BENCHMARK_CAPTURE(facingFaces, quad4_slopes, 4, false, Way::slopes);
BENCHMARK_CAPTURE(facingFaces, quad4_values, 4, false, Way::values);
BENCHMARK_CAPTURE(facingFaces, quad4_held, 4, false, Way::held);
BENCHMARK_CAPTURE(facingFaces, quad4_sliding, 4, false, Way::sliding);
BENCHMARK_CAPTURE(facingFaces, quad4_held_values, 4, false, Way::heldValues);
BENCHMARK_CAPTURE(facingFaces, tri6_slopes, 3, true, Way::slopes);
BENCHMARK_CAPTURE(facingFaces, tri6_values, 3, true, Way::values);
BENCHMARK_CAPTURE(facingFaces, tri6_held, 3, true, Way::held);
BENCHMARK_CAPTURE(facingFaces, tri6_sliding, 3, true, Way::sliding);
BENCHMARK_CAPTURE(facingFaces, tri6_held_values, 3, true, Way::heldValues);
