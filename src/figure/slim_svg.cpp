#include "figure/slim_svg.hpp"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <optional>
#include <pugixml.hpp>
#include <set>
#include <vector>

namespace hestrel::figure {

namespace {

using pugi::xml_attribute;
using pugi::xml_node;

bool is_one_of(std::string_view name, std::initializer_list<std::string_view> names) {
    return std::find(names.begin(), names.end(), name) != names.end();
}

/// Calls `what` with each element below a node, inner ones first; `what` may remove it.
template <class What>
void for_elements(xml_node parent, What what) {
    for (xml_node child = parent.first_child(); child;) {
        const xml_node next = child.next_sibling();
        if (child.type() == pugi::node_element) {
            for_elements(child, what);
            what(child);
        }
        child = next;
    }
}

std::size_t element_children(xml_node node) {
    std::size_t count = 0;
    for (const xml_node child : node.children())
        count += child.type() == pugi::node_element ? 1U : 0U;
    return count;
}

/// What "url(#a)" or "#a" leads to.
std::optional<std::string> referred(std::string_view value) {
    const std::size_t mark = value.find('#');
    if (mark == std::string_view::npos) return std::nullopt;
    const bool by_url = mark >= 4 && value.substr(mark - 4, 4) == "url(";
    if (mark != 0 && !by_url) return std::nullopt;
    return std::string(value.substr(mark + 1, value.find(')', mark) - mark - 1));
}

std::set<std::string> all_referred(xml_node svg) {
    std::set<std::string> ids;
    for_elements(svg, [&](xml_node element) {
        for (const xml_attribute attribute : element.attributes()) {
            if (is_one_of(attribute.name(), {"fill", "stroke"}) &&
                std::strncmp(attribute.value(), "url(", 4) != 0)
                continue; // a colour
            if (const auto id = referred(attribute.value())) ids.insert(*id);
        }
    });
    return ids;
}

/// Blanks between elements say nothing, but for those within a text.
void drop_blanks(xml_node parent) {
    const bool is_text = is_one_of(parent.name(), {"text", "tspan", "title", "desc"});
    for (xml_node child = parent.first_child(); child;) {
        const xml_node next = child.next_sibling();
        const bool blank =
            child.type() == pugi::node_pcdata &&
            std::string_view(child.value()).find_first_not_of(" \t\r\n") == std::string_view::npos;
        if (child.type() == pugi::node_comment || (blank && !is_text))
            parent.remove_child(child);
        else
            drop_blanks(child);
        child = next;
    }
}

/// Ids that nothing leads to, what is defined and not used, and groups of nothing.
void drop_unused(xml_node svg) {
    for (bool changed = true; changed;) {
        changed = false;
        const std::set<std::string> used = all_referred(svg);
        for_elements(svg, [&](xml_node element) {
            const xml_attribute id = element.attribute("id");
            if (id && !used.contains(id.value())) {
                const bool defined = std::string_view(element.parent().name()) == "defs";
                element.remove_attribute(id);
                changed = true;
                if (defined) {
                    element.parent().remove_child(element);
                    return;
                }
            }
            if (is_one_of(element.name(), {"g", "defs"}) && element_children(element) == 0) {
                element.parent().remove_child(element);
                changed = true;
            }
        });
    }
}

/// A group of one element becomes that element.
void unwrap(xml_node svg) {
    for_elements(svg, [](xml_node group) {
        if (std::string_view(group.name()) != "g" || element_children(group) != 1) return;
        xml_node only = group.first_child();
        while (only.type() != pugi::node_element) only = only.next_sibling();
        // These do not pass from the outer to the inner: both count.
        for (const char* both : {"transform", "clip-path", "opacity", "mask", "filter", "class"}) {
            if (group.attribute(both) && only.attribute(both)) return;
        }
        if (is_one_of(only.name(), {"title", "desc"})) return;
        for (const xml_attribute attribute : group.attributes()) {
            if (!only.attribute(attribute.name()))
                only.append_attribute(attribute.name()) = attribute.value();
        }
        group.parent().insert_move_before(only, group);
        group.parent().remove_child(group);
    });
}

/// What has the value that it would have anyway, or does not show.
void drop_needless(xml_node svg) {
    for_elements(svg, [](xml_node element) {
        const bool is_shape = is_one_of(element.name(), {"polygon", "rect", "circle", "path"});
        if (is_shape && std::string_view(element.attribute("stroke").value()) == "none") {
            for (const char* pen : {"stroke-width", "color"}) element.remove_attribute(pen);
        }
        const auto drop = [&](const char* name, std::string_view usual) {
            if (element.attribute(name) && element.attribute(name).value() == usual)
                element.remove_attribute(name);
        };
        drop("stroke-linecap", "butt");
        drop("stroke-linejoin", "miter");
    });
}

/// "rgb(166, 212, 236)" as "#a6d4ec".
std::optional<std::string> hexadecimal(std::string_view colour) {
    if (colour.substr(0, 4) != "rgb(") return std::nullopt;
    std::array<int, 3> parts{};
    const char* at = colour.data() + 4;
    const char* const end = colour.data() + colour.size();
    for (int& part : parts) {
        while (at != end && (*at == ' ' || *at == ',')) ++at;
        const auto read = std::from_chars(at, end, part);
        if (read.ec != std::errc() || part < 0 || part > 255) return std::nullopt;
        at = read.ptr;
    }
    return fmt::format("#{:02x}{:02x}{:02x}", parts[0], parts[1], parts[2]);
}

/// The numbers of a list of places, each to a tenth; what stands between them stays.
std::string to_tenths(std::string_view places) {
    std::string slim;
    const char* at = places.data();
    const char* const end = at + places.size();
    while (at != end) {
        double number = 0;
        const bool begins = *at == '-' || *at == '.' || (*at >= '0' && *at <= '9');
        const auto read = begins ? std::from_chars(at, end, number)
                                 : std::from_chars_result{at, std::errc::invalid_argument};
        if (read.ec != std::errc()) {
            slim += *at++;
            continue;
        }
        slim += fmt::format("{}", std::round(number * 10) / 10 + 0.0); // + 0: no "-0"
        at = read.ptr;
    }
    while (!slim.empty() && slim.back() == ' ') slim.pop_back();
    return slim;
}

void shorten_values(xml_node svg, std::string_view prefix) {
    for_elements(svg, [&](xml_node element) {
        for (xml_attribute attribute : element.attributes()) {
            const std::string_view name = attribute.name();
            const std::string_view value = attribute.value();
            if (name == "points" || name == "d") {
                attribute = to_tenths(value).c_str();
            } else if (const auto colour = hexadecimal(value)) {
                attribute = colour->c_str();
            } else if (name == "id") {
                attribute = (std::string(prefix) + attribute.value()).c_str();
            } else if (const auto id = referred(value)) {
                const bool by_url = value.front() != '#';
                const bool is_colour = !by_url && is_one_of(name, {"fill", "stroke", "color"});
                if (is_colour) continue;
                const std::string now = "#" + std::string(prefix) + *id;
                attribute = (by_url ? "url(" + now + ")" : now).c_str();
            }
        }
    });
}

struct Written : pugi::xml_writer {
    std::string text;
    void write(const void* data, std::size_t size) override {
        text.append(static_cast<const char*>(data), size);
    }
};

} // namespace

std::string slim_svg(std::string_view svg, std::string_view prefix) {
    pugi::xml_document document;
    const auto how = pugi::parse_default | pugi::parse_ws_pcdata;
    if (!document.load_buffer(svg.data(), svg.size(), how)) return std::string(svg);
    const xml_node root = document.document_element();
    drop_blanks(root);
    drop_unused(root);
    unwrap(root);
    drop_needless(root);
    shorten_values(root, prefix);
    Written written;
    root.print(written, "", pugi::format_raw);
    return written.text + "\n";
}

} // namespace hestrel::figure
