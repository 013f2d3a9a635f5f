#include "tables/finding_texts.hpp"

#include "plan/names.hpp"
#include "source/embedded.hpp"

#include <algorithm>
#include <map>
#include <stdexcept>

namespace hestrel::tables {

const std::vector<source::EmbeddedFile>& embedded_findings();

namespace {

/// The part of `text` before the next `end`, which is taken off.
std::string_view take_until(std::string_view& text, std::string_view end) {
    const std::size_t at = std::min(text.find(end), text.size());
    const std::string_view part = text.substr(0, at);
    text.remove_prefix(std::min(at + end.size(), text.size()));
    return part;
}

/// Each "### name" with its heading line, its sentence and the rest up to the next heading.
std::map<std::string, FindingText, std::less<>> read_texts(std::string_view page) {
    std::map<std::string, FindingText, std::less<>> texts;
    take_until(page, "\n### ");
    while (!page.empty()) {
        std::string_view section = take_until(page, "\n### ");
        section = take_until(section, "\n## ");
        const std::string_view name = take_until(section, "\n\n");
        const std::string_view heading = take_until(section, "\n\n");
        const std::string_view sentence = take_until(section, "\n\n");
        while (section.ends_with('\n')) section.remove_suffix(1);
        std::string in_a_line(sentence);
        std::replace(in_a_line.begin(), in_a_line.end(), '\n', ' ');
        texts.emplace(name, FindingText{std::move(in_a_line), std::string(section) + "\n",
                                        std::string(heading)});
    }
    return texts;
}

} // namespace

const FindingText& text_of(const plan::FindingKind& kind) {
    static const auto texts = read_texts(embedded_findings().front().text);
    const auto found = texts.find(kind.name);
    if (found == texts.end())
        throw std::logic_error("docs/findings.md lacks " + std::string(kind.name));
    return found->second;
}

std::string explained(const plan::FindingKind& kind) {
    const FindingText& text = text_of(kind);
    return std::string(kind.name) + " (" + std::string(plan::severity_name(kind.severity)) +
           ")\n\n" + text.sentence + "\n" + text.help;
}

} // namespace hestrel::tables
