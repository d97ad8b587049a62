#include "core/material/fibre.hpp"

#include <algorithm>
#include <cmath>

namespace anvil::material {

namespace {

/// Plastic strain that takes up an overstress along a table, piece by piece; `slope`: of the curve where it ends.
double stepAlongTable(const Hardening& h, double alpha, double over, double young, double& slope) {
  const auto& x = h.table.x;
  const auto& y = h.table.y;
  const size_t n = x.size();
  size_t piece = 0;
  while (piece + 1 < n && x[piece + 1] <= alpha) ++piece;
  double gone = 0;
  for (;; ++piece) {
    const bool last = piece + 1 >= n;
    slope = last ? h.finalSlope : (y[piece + 1] - y[piece]) / (x[piece + 1] - x[piece]);
    const double step = over / (young + slope);
    if (last || alpha + gone + step <= x[piece + 1]) return gone + step;
    const double room = x[piece + 1] - alpha - gone;
    gone += room, over -= (young + slope) * room;
  }
}

}  // namespace

FibreResponse FibreLaw::respond(double strain, const FibreState& old, FibreState& now, bool elasticTrial) const {
  now = old;
  FibreResponse r;
  const double trial = young * (strain - old.plastic);
  r.stress = trial, r.tangent = young, r.strainEnergy = trial * trial / (2 * young);
  if (!yields || elasticTrial) return r;
  double back = 0;
  for (double b : old.back) back += b;
  const double sense = trial < back ? -1 : 1,
               initial = hardening.form == Hardening::Form::table ? hardening.table.y[0] : hardening.yield;
  const double before = old.alpha > 0 ? hardening(old.alpha) : initial,
               radius = initial + (1 - kinematicShare) * (before - initial);
  const double over = sense * (trial - back) - radius;
  if (over <= 1e-14 * radius) return r;
  double step = 0, fall = young;
  if (terms.empty() && hardening.form == Hardening::Form::table) {
    double slope;
    step = stepAlongTable(hardening, old.alpha, over, young, slope), fall = young + slope;
  } else {
    // what is left of the overstress after a plastic strain, and how fast it falls; it falls all the way
    const auto left = [&](double s) {
      double moved = 0, slope = 0;
      for (size_t k = 0; k < terms.size(); ++k) {
        const double shrink = 1 + terms[k].recovery * s, b = (old.back[k] + terms[k].modulus * sense * s) / shrink;
        moved += b, slope += sense * (terms[k].modulus * sense - terms[k].recovery * b) / shrink;
      }
      const double gain = hardening(old.alpha + s) - before, harder = hardening.slopeAt(old.alpha + s);
      if (terms.empty()) moved = back + sense * kinematicShare * gain;
      fall = young + slope + (terms.empty() ? harder : (1 - kinematicShare) * harder);
      return sense * (trial - moved) - young * s - radius - (1 - kinematicShare) * gain;
    };
    double low = 0, high = 2 * (std::abs(trial) + std::abs(back)) / young;
    for (int i = 0; i < 100; ++i) {
      const double rest = left(step);
      (rest > 0 ? low : high) = step;
      if (std::abs(rest) <= 1e-14 * initial || high - low <= 1e-16 * high) break;
      step += rest / fall;
      if (!(step > low && step < high)) step = (low + high) / 2;
    }
    left(step);
  }
  for (size_t k = 0; k < terms.size(); ++k)
    now.back[k] = (old.back[k] + terms[k].modulus * sense * step) / (1 + terms[k].recovery * step);
  now.alpha = old.alpha + step, now.plastic = old.plastic + sense * step;
  if (terms.empty() && kinematicShare > 0) now.back[0] = back + sense * kinematicShare * (hardening(now.alpha) - before);
  r.stress = trial - sense * young * step, r.tangent = young * (1 - young / fall);
  const double growth = r.stress - back - sense * radius;
  r.plasticWork = sense * step * (r.stress - growth / 2);
  r.strainEnergy = r.stress * r.stress / (2 * young);
  return r;
}

std::optional<FibreLaw> fibreOf(const AnyLaw& any) {
  FibreLaw f;
  const auto elastic = [&](const ElasticLaw& e) {
    f.shear = e.mu, f.young = e.mu * (3 * e.lambda + 2 * e.mu) / (e.lambda + e.mu);
  };
  if (const auto* e = std::get_if<ElasticLaw>(&any)) {
    elastic(*e);
  } else if (const auto* j = std::get_if<J2Law>(&any)) {
    elastic(j->elastic), f.yields = true, f.hardening = j->hardening, f.kinematicShare = j->kinematicShare;
  } else if (const auto* c = std::get_if<CyclicLaw>(&any)) {
    elastic(c->elastic), f.yields = true, f.hardening = c->hardening, f.terms = c->terms;
  } else {
    return std::nullopt;
  }
  return f;
}

}  // namespace anvil::material
