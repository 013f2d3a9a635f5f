#include "edit/name_places.hpp"

#include <algorithm>

namespace hestrel::edit {

std::vector<std::string> path_of(const plan::Plan& plan, plan::LevelId level) {
    const plan::Level& named = plan.levels[level];
    if (!named.parent) return {"levels", named.name};
    std::vector<std::string> path = path_of(plan, named.parent);
    path.insert(path.end(), {"sublevels", named.name});
    return path;
}

std::vector<std::string> section_of(const plan::Plan& plan, plan::LevelId home,
                                    std::string_view kind) {
    std::vector<std::string> path;
    if (home) path = path_of(plan, home);
    path.emplace_back(kind);
    return path;
}

std::optional<PathElement> path_element(const plan::Plan& plan, const source::PlanFiles& files,
                                        plan::PathId path) {
    std::vector<std::string> paths = section_of(plan, plan.paths[path].home, "paths");
    const source::PlanFiles::Known list = files.find(paths);
    if (list.parts < paths.size()) return std::nullopt;
    const std::vector<source::Value> elements = list.value.elements();
    PathElement found;
    found.of = elements.size();
    const plan::Place place = plan.paths[path].place;
    for (const plan::PathId other : plan.paths.ids()) {
        if (other == path) break;
        if (plan.paths[other].place == place) ++found.stretch;
    }
    for (std::size_t i = 0; i < elements.size(); ++i) {
        if (elements[i].place() != place) continue;
        // What is set at paths.N goes to the first file that has so many.
        paths.push_back(std::to_string(i));
        if (files.find(paths).tree != list.tree) return std::nullopt;
        found.value = elements[i];
        found.number = i;
        return found;
    }
    return std::nullopt;
}

std::size_t start_of_value(std::string_view text, std::size_t at) {
    const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; };
    while (at < text.size()) {
        if (text[at] == '&' || text[at] == '!') {
            while (at < text.size() && !blank(text[at])) ++at;
        } else if (text[at] == '#') {
            at = std::min(text.find('\n', at), text.size());
        } else if (blank(text[at])) {
            ++at;
        } else {
            break;
        }
    }
    return at;
}

std::optional<std::size_t> offset_of(const source::NameUse& use, std::string_view text,
                                     const source::SourceText& lines) {
    const auto start = lines.offset_of(use.place);
    if (!start) return std::nullopt;
    const std::size_t at = source::find_word(text, use.name, use.nth, start_of_value(text, *start));
    if (at == std::string_view::npos) return std::nullopt;
    return at;
}

std::optional<Span> name_at(const source::SourceText& lines, std::string_view text,
                            plan::Place place, std::string_view name) {
    const auto from = lines.offset_of(place);
    if (!from || *from >= text.size()) return std::nullopt;
    const std::size_t quote = text[*from] == '"' || text[*from] == '\'' ? 1 : 0;
    const Span span{*from, *from + name.size() + 2 * quote};
    if (text.substr(*from + quote, name.size()) != name) return std::nullopt;
    return span;
}

std::optional<Span> item_line(const source::SourceText& lines, std::string_view text,
                              std::uint32_t line_number, Span name) {
    const std::string_view line = lines.line(line_number);
    const auto start = static_cast<std::size_t>(line.data() - text.data());
    const std::string_view before = text.substr(start, name.from - start);
    const std::size_t dash = before.find_first_not_of(' ');
    const bool item = dash != std::string_view::npos && before[dash] == '-' &&
                      before.find_first_not_of(' ', dash + 1) == std::string_view::npos;
    const std::string_view rest = text.substr(name.to, start + line.size() - name.to);
    const std::size_t behind = rest.find_first_not_of(' ');
    const bool alone = behind == std::string_view::npos || rest[behind] == '#';
    if (!item || !alone) return std::nullopt;
    return Span{name.from, start + line.size()};
}

void sort_once(std::vector<Replacement>& replacements) {
    std::sort(replacements.begin(), replacements.end());
    replacements.erase(std::unique(replacements.begin(), replacements.end()), replacements.end());
}

std::string replaced(std::string_view text, const std::vector<Replacement>& replacements) {
    std::string changed;
    std::size_t copied = 0;
    for (const Replacement& each : replacements) {
        changed += text.substr(copied, each.span.from - copied);
        changed += each.by;
        copied = each.span.to;
    }
    changed += text.substr(copied);
    return changed;
}

} // namespace hestrel::edit
