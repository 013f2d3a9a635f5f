#pragma once
// Where in its file a mention of a name stands, byte by byte.

#include "plan/plan.hpp"
#include "source/name_use.hpp"
#include "source/plan_files.hpp"
#include "source/source_text.hpp"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::edit {

/// Where a level stands in the files of a plan, as a path of keys.
std::vector<std::string> path_of(const plan::Plan& plan, plan::LevelId level);

/// Where things of a kind (`triggers`) stand inside a level (unset: outside of levels).
std::vector<std::string> section_of(const plan::Plan& plan, plan::LevelId home,
                                    std::string_view kind);

/// Where a path stands: its element of `paths`, and which of the stretches of that.
struct PathElement {
    source::Value value;
    std::size_t number = 0;
    std::size_t of = 0;      ///< elements of that list
    std::size_t stretch = 0; ///< of an element with several waypoints
};
/// Nothing where the list is written in several files, or shared by an anchor.
std::optional<PathElement> path_element(const plan::Plan& plan, const source::PlanFiles& files,
                                        plan::PathId path);

/// Skips what may stand before a value: an anchor, a tag, blanks, comments.
std::size_t start_of_value(std::string_view text, std::size_t at);

/// The byte at which a mention stands in the text of its file; nothing where it is written in a way
/// that can't be changed, such as with escapes.
std::optional<std::size_t> offset_of(const source::NameUse& use, std::string_view text,
                                     const source::SourceText& lines);

/// A stretch of a text.
struct Span {
    std::size_t from = 0;
    std::size_t to = 0;
    auto operator<=>(const Span&) const = default;
};

/// A name that stands at a place by itself, with its quotes where it has any; nothing where it
/// stands there in another way.
std::optional<Span> name_at(const source::SourceText& lines, std::string_view text,
                            plan::Place place, std::string_view name);
/// From a name to the end of its line where that is `- name`, with its comment; else nothing.
std::optional<Span> item_line(const source::SourceText& lines, std::string_view text,
                              std::uint32_t line, Span name);

/// What comes in place of a stretch of a text.
struct Replacement {
    Span span;
    std::string by;
    auto operator<=>(const Replacement&) const = default;
};

/// Sorts them by place, each once: what several aliases or merge keys mean stands in the file once.
void sort_once(std::vector<Replacement>& replacements);

/// The text with all of them, which are sorted and don't overlap.
std::string replaced(std::string_view text, const std::vector<Replacement>& replacements);

} // namespace hestrel::edit
