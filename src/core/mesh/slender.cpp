#include "core/mesh/slender.hpp"

#include "core/base/error.hpp"

namespace anvil::mesh {

void addSlender(Mesh& mesh, int part, const geometry::SlenderShape& shape, const geometry::Placement& placement,
                const std::string& path) {
  const std::string name = mesh.parts[size_t(part)];
  const size_t first = mesh.spots.size();
  const auto addNode = [&](const Eigen::Vector3d& at) {
    mesh.x.push_back(placement(at));
    return int(mesh.x.size()) - 1;
  };
  const auto addTurn = [&](int node) {
    mesh.turnNode.push_back(node);
    return int(mesh.turnNode.size()) - 1;
  };
  for (size_t i = 0; i < shape.points.size(); ++i) {
    const auto& joined = shape.joined[i];
    const Spot* other = mesh.spot(joined);
    if (!joined.empty() && !other)
      throw Error("the part of the point '" + joined + "' comes later", path + "/slender/points/" + shape.points[i],
                  "Write that part before this one.");
    mesh.spots.push_back(
        {name + "." + shape.points[i], part, other ? other->node : addNode(shape.at[i]), other ? other->turn : -1});
  }
  for (const auto& l : shape.lines) {
    Line line{name + "." + l.name, part, {}, {}, {}, shape.sections[l.section].loops};
    const bool turns = l.carries == geometry::Carries::all;
    const auto end = [&](size_t point, bool hinged) {
      auto& spot = mesh.spots[first + point];
      line.nodes.push_back(spot.node);
      if (!turns) return;
      if (!hinged && spot.turn < 0) {
        const int turn = addTurn(spot.node);
        for (auto& s : mesh.spots)
          if (s.node == spot.node) s.turn = turn;
      }
      line.turns.push_back(hinged ? addTurn(spot.node) : spot.turn);
    };
    end(l.from, l.hingedFrom);
    for (size_t i = 1; i + 1 < l.places.size(); ++i) {
      line.nodes.push_back(addNode(l.places[i]));
      if (turns) line.turns.push_back(addTurn(line.nodes.back()));
    }
    end(l.to, l.hingedTo);
    for (const auto& up : l.up) line.up.push_back(placement.turn * up);
    mesh.lines.push_back(std::move(line));
  }
}

}  // namespace anvil::mesh
