#include "core/element/solid_shell.hpp"

#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/quadrature.hpp"
#include "core/element/thin_kinds.hpp"

namespace anvil::element {
namespace {

using Eigen::Matrix3d;
using Eigen::Vector3d;
using material::Mat6;
using material::Vec6;
using namespace thin;

/// Mandel matrix of E ↦ Aᵀ E A.
Mat6 sandwiched(const Matrix3d& A) {
  Mat6 T;
  for (int k = 0; k < 6; ++k) {
    const int i = first[k], j = second[k];
    for (int m = 0; m < 6; ++m) {
      const int p = first[m], q = second[m];
      const double both = A(i, p) * A(j, q) + A(j, p) * A(i, q);
      T(m, k) = both * (m < 3 ? 1 : material::root2) / (k < 3 ? 2 : material::root2);
    }
  }
  return T;
}

/// Square root of a symmetric positive tensor.
Matrix3d rootOf(const Matrix3d& a) { return Eigen::SelfAdjointEigenSolver<Matrix3d>(a).operatorSqrt(); }

template <class Kind>
class ThinBlock final : public Block {
  static constexpr int N = Kind::N, D = 3 * N, M = Kind::M, inSheet = Kind::inSheet, most = inSheet * mesh::mostThrough;
  static constexpr size_t sampleCount = Kind::samples.size();
  using VecD = Eigen::Matrix<double, D, 1>;
  using MatD = Eigen::Matrix<double, D, D>;
  using RowD = Eigen::Matrix<double, 1, D>;
  using VecM = Eigen::Matrix<double, M, 1>;
  using MatM = Eigen::Matrix<double, M, M>;
  using MatMD = Eigen::Matrix<double, M, D>;
  using Mat6D = Eigen::Matrix<double, 6, D, Eigen::RowMajor>;  // worked on row by row
  using Mat6M = Eigen::Matrix<double, 6, M>;
  using Slopes = typename Kind::Slopes;
  using Places = Eigen::Matrix<double, 3, N>;

 public:
  ThinBlock(const mesh::Block& cells, const std::vector<Vector3d>& x, const Setting& setting, const material::AnyLaw& law)
      : Block(cells),
        setting_(setting),
        perCell_(size_t(cells.points())),
        material_(makePoints<3>(cells.count() * perCell_, setting, law)),
        modulus_(material::stiffestModulus(law)) {
    for (const auto& [zeta, through] : gaussLine(cells.through))
      for (const auto& [xi, eta, weight] : Kind::layer()) {
        Place p{weight * through, Kind::slopesAt(xi, eta, zeta), Kind::modes(xi, eta, zeta), {}};
        for (size_t i = 0; i < sampleCount; ++i) p.share[i] = Kind::share(i, xi, eta);
        places_.push_back(p);
      }
    for (const auto& sample : Kind::samples) {
      Slopes d = Kind::slopesAt(sample.xi, sample.eta, 0);
      if (!sample.ofThickness()) d.col(0) = (sample.along[0] * d.col(0) + sample.along[1] * d.col(1)).eval();
      sampled_.push_back(d);
    }
    for (size_t c = 0; c < cells_.count(); ++c) precompute(c, x);
    enhanced_.resize(cells_.count());
    if (foresees()) seen_.resize(cells_.count() * perCell_);
  }

  Points& points() override { return *material_; }
  const Points& points() const override { return *material_; }
  /// All stresses (D. Magisano, L. Leonetti, G. Garcea, 2017), in cells that do not yield just now: bending a sheet far stretches
  /// it to second order, against which it is stiffer by the square of its slenderness. Stresses of cells that yield are no line.
  bool foresees() const override { return setting_.large; }

  ElementReport integrate(size_t cell, const double* u, double* r, double* K, bool elasticTrial,
                          const Foresight& foresight) override {
    const Cell& q = cellData_[cell];
    Enhanced& e = enhanced_[cell];
    const Eigen::Map<const Places> U(u);
    const Eigen::Map<const VecD> flat(u);
    VecM foretold = e.known ? VecM(e.linearised - e.shift - e.slope * (flat - e.u)) : e.old;
    for (int m = 0; m < M; ++m)
      if (kept(e, m)) foretold[m] = e.old[m];
    Strained s;
    if (!strained(q, U, s)) return {true, 0};
    e.now = foretold;
    std::array<MetricStress, most> stress;
    if (!balanceEnhanced(cell, s, K != nullptr, elasticTrial, stress)) return {true, 0};
    std::array<Vec6, most> foreseen;
    const bool yields = std::any_of(stress.begin(), stress.begin() + std::ptrdiff_t(perCell_),
                                    [](const MetricStress& m) { return m.plasticIncrement > 0; });
    const bool ahead = (K || foresight.ahead >= 0) && !yields && foresee(cell, U, K ? -1 : foresight.ahead, foretold, foreseen);
    Sums sums;
    for (size_t p = 0; p < perCell_; ++p) {
      sums.plasticIncrement = std::max(sums.plasticIncrement, stress[p].plasticIncrement);
      addForces(q, s, p, ahead && !K ? foreseen[p] : stress[p].S, sums);
      if (K && setting_.large) addSecondVariations(q, p, ahead ? foreseen[p] : stress[p].S, sums);
    }
    if (K) stiffen(q, s, stress, sums);
    const ElementReport report{false, sums.plasticIncrement};
    e.yieldedNow = e.yielded + sums.plasticIncrement;
    keep(e, sums.imbalance, sums.inner, &sums);
    if (!K) {
      Eigen::Map<VecD>{r} = e.known ? VecD(sums.force - e.carried * sums.imbalance) : sums.force;
      return report;
    }
    if (setting_.large) {
      for (size_t i = 0; i < sampleCount; ++i) addSecondVariation(sampled_[i], componentOf(i), sums.onSample[i], sums.stressed);
      for (int a = 0; a < N; ++a)
        for (int b = 0; b < N; ++b)
          for (int k = 0; k < 3; ++k) sums.stiffness(3 * a + k, 3 * b + k) += sums.stressed(a, b);
    }
    if (foresees()) remember(cell, stress, ahead ? foreseen.data() : nullptr, yields);
    const Eigen::PartialPivLU<MatM> lu(sums.inner);
    e.slope = lu.solve(sums.coupling), e.shift = lu.solve(sums.imbalance), e.linearised = e.now, e.u = flat, e.known = true;
    e.inverse = lu.inverse(), e.carried = sums.back.transpose() * e.inverse;
    Eigen::Map<VecD>{r} = sums.force - e.carried * sums.imbalance;
    Eigen::Map<MatD>{K} = sums.stiffness - e.carried * sums.coupling;
    if (foresight.shift) {
      Sums seen;
      for (size_t p = 0; ahead && p < perCell_; ++p) addForces(q, s, p, foreseen[p] - stress[p].S, seen);
      Eigen::Map<VecD>{foresight.shift} = seen.force - e.carried * seen.imbalance;
    }
    return report;
  }

  void output(size_t cell, const double* u, PointOutput* out) const override {
    const Cell& q = cellData_[cell];
    const Eigen::Map<const Places> U(u);
    Strained s;
    strained(q, U, s);
    std::vector<Components<3>> F(perCell_);
    for (size_t p = 0; p < perCell_; ++p) {
      // the stretch that the strain has, turned as the cell is there
      const Matrix3d E = material::fromMandel(strainAt(q, enhanced_[cell], s, p));
      Matrix3d f = Matrix3d::Identity() + E;
      if (setting_.large) {
        const Matrix3d own = (q.x + U) * places_[p].slopes * q.point[p].inverse;
        f = own * rootOf(own.transpose() * own).inverse() * rootOf(Matrix3d::Identity() + 2 * E);
      }
      for (int a = 0; a < 9; ++a) F[p][a] = f(Layout<3>::row[a], Layout<3>::column[a]);
    }
    material_->output(cell * perCell_, int(perCell_), F.data(), out);
    for (size_t p = 0; p < perCell_; ++p) out[p].volume = q.point[p].dV;
  }

  void lumpedVolume(size_t cell, double* perNode) const override {
    double total = 0;
    for (const auto& p : cellData_[cell].point) total += p.dV;
    for (int a = 0; a < N; ++a) perNode[a] = total / N;
  }

  double leastVolume(size_t cell, const double* u) const override {
    if (!setting_.large) return 1;
    const Cell& q = cellData_[cell];
    const Eigen::Map<const Places> U(u);
    double least = 1e300;
    for (size_t p = 0; p < perCell_; ++p)
      least = std::min(least, ((q.x + U) * places_[p].slopes * q.point[p].inverse).determinant());
    return least;
  }

  Rounding rounding(size_t cell) const override {
    Rounding r;
    const Cell& q = cellData_[cell];
    for (size_t p = 0; p < perCell_; ++p) {
      const double slope = (places_[p].slopes * q.point[p].inverse).rowwise().norm().maxCoeff();
      r.perStrain += modulus_ * slope * q.point[p].dV, r.perShift += modulus_ * slope * slope * q.point[p].dV;
    }
    return r;
  }

  void accept() override {
    Block::accept(), forget();
    for (auto& e : enhanced_) e.old = e.now, e.yielded = e.yieldedNow;
  }
  void reject() override {
    Block::reject(), forget();
    for (auto& e : enhanced_) e.now = e.old, e.known = false, e.yieldedNow = e.yielded;
  }

  /// The material's state, then the cells' enhanced strains and what they have flowed.
  std::vector<double> state() const override {
    auto all = material_->state();
    for (const auto& e : enhanced_) all.insert(all.end(), e.old.begin(), e.old.end()), all.push_back(e.yielded);
    return all;
  }
  void setState(const std::vector<double>& state) override {
    const auto own = std::ptrdiff_t(enhanced_.size()) * (M + 1);
    if (std::ptrdiff_t(state.size()) < own)
      throw Error("the stored state does not fit the elements", {}, "Continue with the model it was made with.");
    material_->setState({state.begin(), state.end() - own});
    auto from = state.end() - own;
    for (auto& e : enhanced_) {
      std::copy(from, from + M, e.old.begin());
      e.now = e.old, e.known = false, e.yielded = e.yieldedNow = from[M], from += M + 1;
    }
    forget();
  }

 private:
  struct Place {
    double weight;
    Slopes slopes;
    std::array<std::pair<int, double>, M> modes;
    std::array<Share, sampleCount> share;
  };
  struct Point {
    Matrix3d inverse;  ///< of ∂X/∂ξ
    double dV;
    Mat6 toGlobal;    ///< natural strains to those of the axes
    Mat6M enhancing;  ///< enhanced strains, of the axes
  };
  struct Cell {
    Places x;
    std::vector<Point> point;
  };
  /// Enhanced strains of a cell, and what is known of them from the last tangent.
  struct Enhanced {
    VecM old = VecM::Zero(), now = VecM::Zero(), linearised = VecM::Zero(), shift = VecM::Zero();
    MatMD slope = MatMD::Zero();
    Eigen::Matrix<double, D, M> carried = Eigen::Matrix<double, D, M>::Zero();
    MatM inverse = MatM::Zero();  ///< of ∂ imbalance / ∂ enhanced strains
    VecD u = VecD::Zero();
    bool known = false;
    double yielded = 0, yieldedNow = 0;  ///< plastic strain that the cell has come to
  };
  /// A point at the last tangent: its stress, that which the tangent was taken with, and its modulus. For forecasts only.
  struct Seen {
    Eigen::Matrix<float, 6, 1> stress, taken;
    Eigen::Matrix<float, 6, 6> tangent;
    bool any = false;
  };
  /// Natural strains and their variations where they are sampled, and at the points.
  struct Strained {
    std::array<double, sampleCount> sample;
    Eigen::Matrix<double, int(sampleCount), D, Eigen::RowMajor> sampleB;
    std::array<Vec6, most> strain;
    std::array<Mat6D, most> B;
  };
  /// What the points of a cell add up to.
  struct Sums {
    VecD force = VecD::Zero();
    VecM imbalance = VecM::Zero();  ///< what enhanced strains do work with
    MatD stiffness = MatD::Zero();
    MatMD coupling = MatMD::Zero();  ///< ∂ imbalance / ∂ u
    MatMD back = MatMD::Zero();      ///< (∂ force / ∂ enhanced strains)ᵀ
    MatM inner = MatM::Zero();
    std::array<double, sampleCount> onSample{};
    Eigen::Matrix<double, N, N> stressed = Eigen::Matrix<double, N, N>::Zero();
    double plasticIncrement = 0;
  };

  static int componentOf(size_t sample) { return Kind::samples[sample].ofThickness() ? across : shear13; }

  void precompute(size_t c, const std::vector<Vector3d>& x) {
    Cell q;
    for (int a = 0; a < N; ++a) q.x.col(a) = x[size_t(cells_.cell(c)[a])];
    const Matrix3d middle = q.x * Kind::slopesAt(Kind::middle[0], Kind::middle[1], 0);
    const Mat6 middleToGlobal = middle.determinant() * sandwiched(middle.inverse());
    for (const auto& place : places_) {
      const Matrix3d jacobian = q.x * place.slopes;
      const double det = jacobian.determinant();
      if (!(det > 0))
        throw Error("element " + std::to_string(c + 1) + " is folded in the undeformed mesh", {}, "Mend the part's mesh.");
      Point point{jacobian.inverse(), det * place.weight, sandwiched(jacobian.inverse()), {}};
      for (int m = 0; m < M; ++m) {
        const auto& [component, shape] = place.modes[size_t(m)];
        point.enhancing.col(m) = (shape / det) * middleToGlobal.col(component);
      }
      q.point.push_back(point);
    }
    cellData_.push_back(std::move(q));
  }

  /// Green–Lagrange strain (small: linear) at a point, Mandel.
  Vec6 strainAt(const Cell& q, const Enhanced& e, const Strained& s, size_t p) const {
    return q.point[p].toGlobal * s.strain[p] + q.point[p].enhancing * e.now;
  }

  /// Whether an enhanced strain stays as it is. Where a cell has flowed, membrane strains that are free to vary within it would
  /// let it neck by itself as soon as its section softens (on such modes: P. Wriggers, S. Reese, CMAME 135, 1996). Two points
  /// through the thickness do not see a quadratic one.
  bool kept(const Enhanced& e, int mode) const {
    return mode < Kind::ofMembrane ? e.yielded > 0.02 : mode == M - 1 && cells_.through == 2;
  }
  /// Takes what stays as it is out of the equations.
  void keep(const Enhanced& e, VecM& imbalance, MatM& inner, Sums* sums = nullptr) const {
    for (int m = 0; m < M; ++m) {
      if (!kept(e, m)) continue;
      imbalance[m] = 0, inner.row(m).setZero(), inner.col(m).setZero(), inner(m, m) = 1;
      if (sums) sums->coupling.row(m).setZero(), sums->back.row(m).setZero();
    }
  }

  /// Enhanced strains that do no work with the stresses at these displacements, from what was foretold of them: by Newton's
  /// method, up to errors that the cell's condensed forces mend; and the stresses then. False where the strain is none.
  bool balanceEnhanced(size_t cell, const Strained& s, bool tangent, bool elasticTrial, std::array<MetricStress, most>& stress) {
    const Cell& q = cellData_[cell];
    Enhanced& e = enhanced_[cell];
    const double small = 1e-5;  // of a strain
    std::array<Matrix3d, most> E;
    for (int it = 0;; ++it) {
      for (size_t p = 0; p < perCell_; ++p) {
        E[p] = material::fromMandel(strainAt(q, e, s, p));
        if (setting_.large && !((Matrix3d::Identity() + 2 * E[p]).determinant() > 0)) return false;
      }
      const bool withTangent = tangent || it > 0;
      material_->evaluateStrain(cell * perCell_, int(perCell_), E.data(), withTangent, elasticTrial, stress.data());
      if (it == 12 || (!withTangent && !e.known)) return true;
      VecM imbalance = VecM::Zero();
      MatM inner = MatM::Zero();
      for (size_t p = 0; p < perCell_; ++p) {
        const double dV = q.point[p].dV;
        imbalance += dV * (q.point[p].enhancing.transpose() * stress[p].S);
        if (!withTangent) continue;
        const Mat6M C = dV * stress[p].tangent.lazyProduct(q.point[p].enhancing);
        inner += q.point[p].enhancing.transpose().lazyProduct(C);
      }
      keep(e, imbalance, inner);
      const VecM correction = withTangent ? VecM(inner.partialPivLu().solve(imbalance)) : VecM(e.inverse * imbalance);
      double largest = 0;
      for (size_t p = 0; p < perCell_; ++p)
        largest = std::max(largest, (q.point[p].enhancing * correction).cwiseAbs().maxCoeff());
      if (!(largest > small)) return true;
      if (withTangent) e.now -= correction;
    }
  }

  /// Strain of a natural component from the frames G (undeformed) and the displacements' slopes H, and its variation by nodes.
  double naturalStrain(const Matrix3d& G, const Matrix3d& H, const Slopes& d, int k, Eigen::Ref<RowD> row) const {
    const int i = first[k], j = second[k];
    const double factor = i == j ? 1 : material::root2;  // Mandel
    Vector3d gi = G.col(i), gj = G.col(j);
    const double linear = 0.5 * (gi.dot(H.col(j)) + gj.dot(H.col(i)));
    if (setting_.large) gi += H.col(i), gj += H.col(j);
    for (int a = 0; a < N; ++a) row.template segment<3>(3 * a) = (0.5 * factor) * (d(a, i) * gj + d(a, j) * gi).transpose();
    return factor * (linear + (setting_.large ? 0.5 * H.col(i).dot(H.col(j)) : 0));
  }

  bool strained(const Cell& q, const Eigen::Map<const Places>& U, Strained& s) const {
    for (size_t i = 0; i < sampleCount; ++i)
      s.sample[i] =
          naturalStrain(q.x * sampled_[i], U * sampled_[i], sampled_[i], componentOf(i), s.sampleB.row(Eigen::Index(i)));
    for (size_t p = 0; p < perCell_; ++p) {
      const Place& place = places_[p];
      const Matrix3d G = q.x * place.slopes, H = U * place.slopes;
      if (setting_.large && !((G + H).determinant() > 0)) return false;
      s.strain[p].setZero(), s.B[p].setZero();
      for (const int k : {0, 1, 3}) s.strain[p][k] = naturalStrain(G, H, place.slopes, k, s.B[p].row(k));
      for (size_t i = 0; i < sampleCount; ++i)
        for (size_t k = 0; k < assumed.size(); ++k) {
          if (place.share[i][k] == 0) continue;
          s.strain[p][assumed[k]] += place.share[i][k] * s.sample[i];
          s.B[p].row(assumed[k]) += place.share[i][k] * s.sampleB.row(Eigen::Index(i));
        }
    }
    return true;
  }

  void addForces(const Cell& q, const Strained& s, size_t p, const Vec6& stress, Sums& sums) const {
    const double dV = q.point[p].dV;
    sums.force += s.B[p].transpose() * (dV * (q.point[p].toGlobal.transpose() * stress));
    sums.imbalance += dV * (q.point[p].enhancing.transpose() * stress);
  }

  /// Material stiffnesses of all points at once: one product of what stands over each other is many times as fast as one by
  /// point.
  void stiffen(const Cell& q, const Strained& s, const std::array<MetricStress, most>& stress, Sums& sums) const {
    Eigen::Matrix<double, 6 * most, D, Eigen::RowMajor> B, CB;
    Eigen::Matrix<double, 6 * most, M> E, CE;
    for (size_t p = 0; p < perCell_; ++p) {
      const auto at = Eigen::Index(6 * p);
      const Mat6 C = q.point[p].dV * stress[p].tangent;
      const Mat6D GB = q.point[p].toGlobal.lazyProduct(s.B[p]);
      B.template middleRows<6>(at) = GB, CB.template middleRows<6>(at) = C.lazyProduct(GB);
      E.template middleRows<6>(at) = q.point[p].enhancing, CE.template middleRows<6>(at) = C.lazyProduct(q.point[p].enhancing);
    }
    const auto rows = Eigen::Index(6 * perCell_);
    sums.stiffness.noalias() += B.topRows(rows).transpose() * CB.topRows(rows);
    sums.coupling.noalias() = E.topRows(rows).transpose() * CB.topRows(rows);
    sums.inner.noalias() = E.topRows(rows).transpose() * CE.topRows(rows);
    if (symmetric())
      sums.back = sums.coupling;
    else
      sums.back.noalias() = CE.topRows(rows).transpose() * B.topRows(rows);
  }

  /// Adds what the strains' second variations do of work with a stress.
  void addSecondVariations(const Cell& q, size_t p, const Vec6& stress, Sums& sums) const {
    const Vec6 S = q.point[p].dV * (q.point[p].toGlobal.transpose() * stress);
    for (const int k : {0, 1, 3}) addSecondVariation(places_[p].slopes, k, S[k], sums.stressed);
    for (size_t i = 0; i < sampleCount; ++i)
      for (size_t k = 0; k < assumed.size(); ++k) sums.onSample[i] += places_[p].share[i][k] * S[assumed[k]];
  }

  /// Stresses foreseen at displacements U; with a share of the correction on the way from those of the last tangent to there.
  /// False where there was none.
  bool foresee(size_t cell, const Eigen::Map<const Places>& U, double share, const VecM& foretold,
               std::array<Vec6, most>& foreseen) const {
    if (!foresees() || !seen_[cell * perCell_].any) return false;
    const Enhanced& e = enhanced_[cell];
    const VecD shift = Eigen::Map<const VecD>(U.data()) - e.u;
    if (share < 0 && shift.isZero(0)) share = 0;  // the same once more
    const Cell& q = cellData_[cell];
    const Places there = q.x + Eigen::Map<const Places>(e.u.data());
    const Eigen::Map<const Places> way(shift.data());
    const auto changeOf = [](const Matrix3d& g, const Matrix3d& h, int k) {  // of a natural strain, to first order
      const int i = first[k], j = second[k];
      return (i == j ? 0.5 : 0.5 * material::root2) * (g.col(i).dot(h.col(j)) + g.col(j).dot(h.col(i)));
    };
    std::array<double, sampleCount> sampledChange;
    for (size_t i = 0; i < sampleCount; ++i) sampledChange[i] = changeOf(there * sampled_[i], way * sampled_[i], componentOf(i));
    for (size_t p = 0; p < perCell_; ++p) {
      const Seen& s = seen_[cell * perCell_ + p];
      Vec6 natural = Vec6::Zero();
      const Matrix3d g = there * places_[p].slopes, h = way * places_[p].slopes;
      for (const int k : {0, 1, 3}) natural[k] = changeOf(g, h, k);
      for (size_t i = 0; i < sampleCount; ++i)
        for (size_t k = 0; k < assumed.size(); ++k) natural[assumed[k]] += places_[p].share[i][k] * sampledChange[i];
      const Vec6 change = q.point[p].toGlobal * natural + q.point[p].enhancing * (foretold - e.linearised);
      const Vec6 from = share < 0 ? Vec6(s.stress.template cast<double>())
                                  : Vec6(((1 - share) * s.taken + share * s.stress).template cast<double>());
      foreseen[p] = from + s.tangent.template cast<double>() * change;
    }
    return true;
  }
  void remember(size_t cell, const std::array<MetricStress, most>& stress, const Vec6* taken, bool yields) {
    for (size_t p = 0; p < perCell_; ++p) {
      Seen& s = seen_[cell * perCell_ + p];
      s.any = !yields, s.stress = stress[p].S.template cast<float>(), s.tangent = stress[p].tangent.template cast<float>();
      s.taken = taken ? taken[p].template cast<float>() : s.stress;
    }
  }
  void forget() {
    for (auto& s : seen_) s.any = false;
  }

  /// Adds stress times the second variation of a natural strain: the same for each direction in space.
  static void addSecondVariation(const Slopes& d, int k, double stress, Eigen::Matrix<double, N, N>& sum) {
    const int i = first[k], j = second[k];
    const double factor = (i == j ? 1 : material::root2) * stress;
    sum += (0.5 * factor) * (d.col(i) * d.col(j).transpose() + d.col(j) * d.col(i).transpose());
  }

  Setting setting_;
  size_t perCell_;
  std::unique_ptr<PointsIn<3>> material_;
  double modulus_ = 0;
  std::vector<Place> places_;
  std::vector<Slopes> sampled_;
  std::vector<Cell> cellData_;
  std::vector<Enhanced> enhanced_;
  std::vector<Seen> seen_;
};

}  // namespace

std::unique_ptr<Block> thinBlock(const mesh::Block& cells, const std::vector<Vector3d>& x, const Setting& setting,
                                 const material::AnyLaw& law) {
  if (!cells.thin()) return nullptr;
  if (cells.type == mesh::Cell::hex8) return std::make_unique<ThinBlock<thin::Hexahedron>>(cells, x, setting, law);
  if (cells.type == mesh::Cell::wedge6) return std::make_unique<ThinBlock<thin::Wedge>>(cells, x, setting, law);
  throw Error("thin cells have eight corners, or six", {}, "Take another element.");
}

}  // namespace anvil::element
