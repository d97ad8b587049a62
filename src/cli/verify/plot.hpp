// Small plots for the verification report: a reference as a line, what was computed as dots.
#pragma once
#include <string>
#include <utility>
#include <vector>

namespace anvil::cli {

struct PlotLine {
  std::string label;
  std::vector<std::pair<double, double>> points;
  bool dots = false;
};

struct VerifyPlot {
  std::string id, title, x, y;  ///< case, heading, labels of the axes
  std::vector<PlotLine> lines;
};

/// The plot as an SVG picture of 360 × 240 pixels.
std::string svg(const VerifyPlot& plot);

}  // namespace anvil::cli
