#pragma once
// What gnuplot and Graphviz write, made a figure that says what it is.

#include "figure/gnuplot.hpp"
#include "figure/sheet.hpp"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::figure {

/// Figures as pictures, each drawn whatever becomes of the others. An SVG carries title and
/// description, and says more of what is pointed at.
std::vector<Drawn> draw(const std::vector<Figure>& figures, Picture picture);
/// One figure. Throws DrawingError.
std::string draw(const Figure& figure, Picture picture);

/// A graph that Graphviz draws. Nodes and edges in `hot` (by `id`) say more when pointed at.
struct Graph {
    std::string dot;
    std::string title;
    std::string description;
    std::map<std::string, std::string> hot;
};
std::string draw(const Graph& graph, Picture picture);

/// As an HTML figure with its description as caption; `look` is attributes, with a blank before
/// them. Nothing where there is no SVG.
std::string figure_html(std::string_view svg, std::string_view prefix, std::string_view look = {});

} // namespace hestrel::figure
