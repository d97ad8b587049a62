#include "core/lower/near_sizes.hpp"

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {

std::vector<mesh::FreeSizes::Near> nearSizes(const model::Part& part, const model::Quantities& q, const std::string& path) {
  std::vector<mesh::FreeSizes::Near> list;
  for (size_t i = 0; i < part.near.size(); ++i) {
    const auto& n = part.near[i];
    const std::string place = path + "/near/" + std::to_string(i + 1);
    const auto at = q.list(n.at, Kind::length, place + "/at");
    const double within = q(n.within, Kind::length, place + "/within"), h = q(n.size, Kind::length, place + "/size");
    if (at.size() != 3) throw Error("a place needs three coordinates", place + "/at", "Write [x, y, z].");
    if (!(within > 0))
      throw Error("the distance is " + shortNumber(within) + " mm", place + "/within", "Give a value above zero.");
    if (!(h > 0)) throw Error("the element size is " + shortNumber(h) + " mm", place + "/size", "Give a value above zero.");
    list.push_back({Eigen::Vector3d(at[0], at[1], at[2]), within, h});
  }
  return list;
}

}  // namespace anvil::analysis
