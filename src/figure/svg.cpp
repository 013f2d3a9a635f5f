#include "figure/svg.hpp"

#include "figure/slim_svg.hpp"
#include "source/xml.hpp"

#include <fmt/format.h>
#include <utility>

namespace hestrel::figure {

namespace {

/// Puts title and description first in the `svg` element, and makes it one image to who can't see.
std::string titled(std::string svg, const std::string& title, const std::string& description) {
    const std::size_t element = svg.find("<svg");
    const std::size_t close = svg.find('>', element);
    if (element == std::string::npos || close == std::string::npos)
        throw DrawingError("what was drawn is no SVG");
    const std::string words = fmt::format("\n<title>{}</title>\n<desc>{}</desc>",
                                          source::xml_text(title), source::xml_text(description));
    svg.insert(close + 1, words);
    svg.insert(close, fmt::format(" role=\"img\" aria-label=\"{}\"", source::xml_text(title)));
    return svg;
}

/// Calls `replace` with what stands between two marks, wherever it does; what it returns takes the
/// place of all three.
template <class Replace>
void replace_between(std::string& svg, std::string_view from, std::string_view to,
                     Replace replace) {
    std::string changed;
    std::size_t kept = 0;
    for (std::size_t at = svg.find(from); at != std::string::npos; at = svg.find(from, kept)) {
        const std::size_t begin = at + from.size();
        const std::size_t end = svg.find(to, begin);
        if (end == std::string::npos) break;
        changed.append(svg, kept, at - kept);
        changed += replace(std::string_view(svg).substr(begin, end - begin));
        kept = end + to.size();
    }
    if (kept == 0) return;
    svg = changed.append(svg, kept);
}

void erase_between(std::string& svg, std::string_view from, std::string_view to) {
    replace_between(svg, from, to, [](std::string_view) { return std::string_view(); });
}

/// Gnuplot's patterns have styles, which no page applies that allows nothing inline: each
/// `name:value` becomes an attribute.
void styles_to_attributes(std::string& svg) {
    replace_between(svg, "<path style='", "'", [](std::string_view styles) {
        std::string attributes = "<path ";
        for (const char each : styles) {
            if (each == ':')
                attributes += "='";
            else if (each == ';')
                attributes += '\'';
            else
                attributes += each;
        }
        return attributes + "'";
    });
}

/// Gnuplot begins with an empty group that is in the pen of the figure before: that of the first is
/// put there, so that a figure does not depend on what was drawn with it.
void begin_anew(std::string& svg) {
    constexpr std::string_view pen = " stroke=\"";
    const std::size_t group = svg.find("<g ", svg.find("</defs>"));
    const std::size_t found = svg.find(pen, group);
    if (group == std::string::npos || found == std::string::npos || found > svg.find('>', group))
        return;
    const std::size_t from = found + pen.size();
    svg.replace(from, svg.find('"', from) - from, "currentColor");
}

std::string hot_areas(const std::vector<Hot>& hots) {
    if (hots.empty()) return {};
    std::string group = "<g class=\"hot\" fill=\"#000000\" fill-opacity=\"0\" stroke=\"none\">\n";
    for (const Hot& hot : hots) {
        group += fmt::format("<rect x=\"{:.1f}\" y=\"{:.1f}\" width=\"{:.1f}\" height=\"{:.1f}\">"
                             "<title>{}</title></rect>\n",
                             hot.extent.from.x, hot.extent.from.y, hot.extent.width(),
                             hot.extent.height(), source::xml_text(hot.text));
    }
    return group + "</g>\n";
}

/// What stands between two marks, as written; empty where they are not there.
std::string_view within(std::string_view text, std::string_view from, std::string_view to) {
    const std::size_t begin = text.find(from);
    if (begin == std::string_view::npos) return {};
    const std::size_t start = begin + from.size();
    return text.substr(start, text.find(to, start) - start);
}

/// What gnuplot drew of a figure, as an SVG of ours.
std::string finished(std::string drawn, const Figure& figure) {
    erase_between(drawn, "<title>Gnuplot</title>", "</desc>");
    erase_between(drawn, "<title>gnuplot_plot_", "</title>");
    styles_to_attributes(drawn);
    begin_anew(drawn);
    const std::size_t end = drawn.rfind("</svg>");
    if (end != std::string::npos) drawn.insert(end, hot_areas(figure.sheet.hots()));
    return titled(std::move(drawn), figure.title, figure.description);
}

} // namespace

std::vector<Drawn> draw(const std::vector<Figure>& figures, Picture picture) {
    std::vector<Script> scripts;
    for (const Figure& figure : figures)
        scripts.push_back({figure.sheet.script(), figure.sheet.width(), figure.sheet.height()});
    std::vector<Drawn> all = run_gnuplot(scripts, picture);
    for (std::size_t i = 0; i < all.size() && picture == Picture::svg; ++i) {
        if (!all[i].problem.empty()) continue;
        try {
            all[i].picture = finished(std::move(all[i].picture), figures[i]);
        } catch (const DrawingError& error) {
            all[i] = {{}, error.what()};
        }
    }
    return all;
}

std::string draw(const Figure& figure, Picture picture) {
    Drawn drawn = std::move(draw(std::vector{figure}, picture).front());
    if (!drawn.problem.empty()) throw DrawingError(drawn.problem);
    return std::move(drawn.picture);
}

std::string draw(const Graph& graph, Picture picture) {
    std::string drawn = run_dot(graph.dot, picture);
    if (picture == Picture::png) return drawn;
    // Graphviz titles nodes and edges with names of its own; what is to be said stands in `hot`.
    const std::string_view open = "<title>";
    const std::string_view close = "</title>";
    for (std::size_t at = drawn.find(open); at != std::string::npos; at = drawn.find(open, at)) {
        const std::size_t end = drawn.find(close, at);
        const std::size_t id = drawn.rfind("id=\"", at);
        if (end == std::string::npos || id == std::string::npos) break;
        const std::size_t name = id + 4;
        const auto said = graph.hot.find(drawn.substr(name, drawn.find('"', name) - name));
        std::string words;
        if (said != graph.hot.end())
            words = fmt::format("{}{}{}", open, source::xml_text(said->second), close);
        drawn.replace(at, end + close.size() - at, words);
        at += words.size();
    }
    return titled(std::move(drawn), graph.title, graph.description);
}

std::string figure_html(std::string_view svg, std::string_view prefix, std::string_view look) {
    if (svg.empty()) return {};
    return fmt::format("<figure{}>\n{}<figcaption>{}</figcaption>\n</figure>\n", look,
                       slim_svg(svg, prefix), within(svg, "<desc>", "</desc>"));
}

} // namespace hestrel::figure
