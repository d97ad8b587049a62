// A block that a round tool is pressed into and pushed over.
#pragma once

namespace anvil {

inline const char* const pushedBlock = R"({
  "anvil": 1,
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"yield": 260, "tangent": 2000}}},
  "parts": {
    "block": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {
      "size": 0.5}},
    "tool": {"rigid": true, "shape": {"profile": {"start": [0, 10.1], "path": [{"arc": [10, 10.1], "center": [5, 10.1]}]}}}
  },
  "contacts": {"press": {"between": ["block.top", "tool"], "friction": 0.2}},
  "steps": {"press": {"increments": {"largest": 0.05, "smallest": 0.005}}, "push": {"increments": {"largest": 0.05}}},
  "supports": {"base": {"on": "block.bottom", "fix": ["x", "y"]}},
  "motions": {"down": {"on": "tool", "along": "y", "course": {"press": -0.4, "push": "hold"}}, "aside": {"on": "tool",
    "along": "x", "course": {"push": 0.5}}}
})";

}  // namespace anvil
