#include "report/page.hpp"
#include "source/embedded.hpp"

#include <algorithm>
#include <stdexcept>

namespace hestrel::report {

/// Made by cmake/embed.cmake.
const std::vector<source::EmbeddedFile>& embedded_page();

std::string_view page_part(std::string_view name) {
    const auto& parts = embedded_page();
    const auto part = std::find_if(parts.begin(), parts.end(),
                                   [&](const auto& each) { return each.name == name; });
    if (part == parts.end()) throw std::logic_error("a part of the page is missing");
    return part->text;
}

} // namespace hestrel::report
