#pragma once
// A file's text, and where its lines and columns are.

#include "plan/place.hpp"

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

namespace hestrel::source {

/// The bytes at which lines begin; they end at \n, \r\n and \r.
std::vector<std::size_t> line_starts(std::string_view text);

/// Lines end and columns count as in libyaml, from whose marks places come: a column is a
/// character, a byte-order mark is none, and YAML knows line ends besides \n.
class SourceText {
public:
    explicit SourceText(std::string_view text);

    /// The byte at which a place is; nothing where the text has no such line.
    [[nodiscard]] std::optional<std::size_t> offset_of(plan::Place place) const;
    /// The number, from 1, of the line in which a byte is.
    [[nodiscard]] std::uint32_t line_at(std::size_t offset) const;
    /// Line number `line` (from 1) without its end; empty where there is none.
    [[nodiscard]] std::string_view line(std::uint32_t line) const;

private:
    std::string_view text_;
    std::vector<std::size_t> starts_; ///< of lines
};

} // namespace hestrel::source
