#include "figure/svg.hpp"

#include "source/xml.hpp"

#include <array>
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

void erase_between(std::string& svg, std::string_view from, std::string_view to) {
    for (std::size_t at = svg.find(from); at != std::string::npos; at = svg.find(from, at)) {
        const std::size_t end = svg.find(to, at);
        if (end == std::string::npos) return;
        svg.erase(at, end + to.size() - at);
    }
}

/// Gnuplot's patterns have styles, which no page applies that allows nothing inline: each
/// `name:value` becomes an attribute.
void styles_to_attributes(std::string& svg) {
    constexpr std::string_view open = "<path style='";
    for (std::size_t at = svg.find(open); at != std::string::npos; at = svg.find(open, at)) {
        const std::size_t from = at + open.size();
        const std::size_t end = svg.find('\'', from);
        if (end == std::string::npos) return;
        std::string attributes = "<path ";
        for (const char each : std::string_view(svg).substr(from, end - from)) {
            if (each == ':')
                attributes += "='";
            else if (each == ';')
                attributes += '\'';
            else
                attributes += each;
        }
        svg.replace(at, end - at, attributes);
        at += attributes.size();
    }
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

} // namespace

std::string draw(const Figure& figure, Picture picture) {
    const Sheet& sheet = figure.sheet;
    std::string drawn = run_gnuplot(sheet.script(), picture, sheet.width(), sheet.height());
    if (picture == Picture::png) return drawn;
    erase_between(drawn, "<title>Gnuplot</title>", "</desc>");
    erase_between(drawn, "<title>gnuplot_plot_", "</title>");
    styles_to_attributes(drawn);
    const std::size_t end = drawn.rfind("</svg>");
    if (end != std::string::npos) drawn.insert(end, hot_areas(sheet.hots()));
    return titled(std::move(drawn), figure.title, figure.description);
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

std::string inlined(std::string_view svg, std::string_view prefix) {
    const std::size_t element = svg.find("<svg");
    std::string page(svg.substr(element == std::string_view::npos ? 0 : element));
    static constexpr std::array<std::string_view, 6> mentions{" id=\"",  " id='",    "url(#",
                                                              "href='#", "href=\"#", "\tid='"};
    for (const std::string_view mention : mentions) {
        for (std::size_t at = page.find(mention); at != std::string::npos;
             at = page.find(mention, at)) {
            at += mention.size();
            page.insert(at, prefix);
        }
    }
    return page;
}

std::string figure_html(std::string_view svg, std::string_view prefix, std::string_view look) {
    if (svg.empty()) return {};
    return fmt::format("<figure{}>\n{}<figcaption>{}</figcaption>\n</figure>\n", look,
                       inlined(svg, prefix), within(svg, "<desc>", "</desc>"));
}

} // namespace hestrel::figure
