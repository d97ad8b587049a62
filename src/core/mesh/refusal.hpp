// A part that cannot be meshed: the sentence for people, and where in space it fails for the picture.
#pragma once
#include <Eigen/Core>
#include <string>
#include <utility>
#include <vector>

#include "core/base/error.hpp"

namespace anvil::mesh {

/// Thrown by the meshers of solids. The sentence names the places as well.
class Refusal : public Error {
 public:
  struct Place {
    std::string face;    ///< its name within the part; empty where only the point is known
    Eigen::Vector3d at;  ///< mm, in the model
  };
  Refusal(std::string what, std::string where, std::string remedy, std::vector<Place> places)
      : Error(std::move(what), std::move(where), std::move(remedy)), places_(std::move(places)) {}
  const std::vector<Place>& places() const { return places_; }

 private:
  std::vector<Place> places_;
};

}  // namespace anvil::mesh
