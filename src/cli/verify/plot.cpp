#include "cli/verify/plot.hpp"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"

namespace anvil::cli {

std::string svg(const VerifyPlot& plot) {
  double x0 = 1e300, x1 = -x0, y0 = x0, y1 = -x0;
  for (const auto& line : plot.lines)
    for (const auto& [x, y] : line.points) x0 = std::min(x0, x), x1 = std::max(x1, x), y0 = std::min(y0, y), y1 = std::max(y1, y);
  if (!(x1 > x0)) x1 = x0 + 1;
  if (!(y1 > y0)) y1 = y0 + 1;
  const double left = 52, right = 348, top = 28, bottom = 200;
  const auto X = [&](double x) { return left + (x - x0) / (x1 - x0) * (right - left); };
  const auto Y = [&](double y) { return bottom - (y - y0) / (y1 - y0) * (bottom - top); };
  const auto text = [](double x, double y, const char* anchor, const std::string& words) {
    std::string safe;
    for (char c : words) safe += c == '&' ? "&amp;" : c == '<' ? "&lt;" : std::string(1, c);
    return fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" text-anchor=\"{}\">{}</text>\n", x, y, anchor, safe);
  };
  std::string s =
      "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"360\" height=\"240\" font-family=\"Inter, sans-serif\" font-size=\"11\" "
      "fill=\"#23282D\">\n"
      "<rect width=\"360\" height=\"240\" fill=\"#F6F4F0\"/>\n";
  s += fmt::format("<path d=\"M{} {}V{}H{}\" fill=\"none\" stroke=\"#23282D\"/>\n", left, top, bottom, right);
  if (y0 < 0 && y1 > 0) s += fmt::format("<path d=\"M{} {:.1f}H{}\" stroke=\"#D9D4CC\"/>\n", left, Y(0), right);
  s += text(left, 16, "start", plot.id + "  " + plot.title);
  s += text(left - 4, top + 8, "end", shortNumber(y1, 3)) + text(left - 4, bottom, "end", shortNumber(y0, 3));
  s += text(left, bottom + 14, "start", shortNumber(x0, 3)) + text(right, bottom + 14, "end", shortNumber(x1, 3));
  s += text((left + right) / 2, bottom + 14, "middle", plot.x) + text(left + 4, top + 8, "start", plot.y);
  const char* const colours[] = {"#8A8F94", "#C2501D", "#2B6F77", "#7A5C1E"};
  double at = left;
  for (size_t k = 0; k < plot.lines.size(); ++k) {
    const auto& line = plot.lines[k];
    const std::string colour = colours[k % 4];
    if (line.dots) {
      const size_t every = std::max<size_t>(1, line.points.size() / 60);
      for (size_t i = 0; i < line.points.size(); i += every)
        s += fmt::format("<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"2\" fill=\"{}\"/>\n", X(line.points[i].first),
                         Y(line.points[i].second), colour);
    } else {
      std::string d;
      for (const auto& [x, y] : line.points) d += fmt::format("{}{:.1f} {:.1f}", d.empty() ? "M" : "L", X(x), Y(y));
      s += "<path d=\"" + d + "\" fill=\"none\" stroke=\"" + colour + "\" stroke-width=\"1.5\"/>\n";
    }
    s += fmt::format("<rect x=\"{:.1f}\" y=\"221\" width=\"10\" height=\"{}\" fill=\"{}\"/>\n", at, line.dots ? 8 : 3, colour) +
         text(at + 14, 229, "start", line.label);
    at += 24 + 6.2 * double(line.label.size());
  }
  return s + "</svg>\n";
}

}  // namespace anvil::cli
