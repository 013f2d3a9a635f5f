#pragma once
// A file's text as an editor counts in it: lines and characters from 0, a character a UTF-16 unit
// (Language Server Protocol 3.17, Position). Lines end at \n, \r\n and \r.

#include "source/json.hpp"

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::serve {

struct Position {
    std::size_t line = 0;
    std::size_t character = 0;
};

/// A stretch of a text, in bytes: from the first to behind the last.
struct Stretch {
    std::size_t from = 0;
    std::size_t to = 0;
};

class Document {
public:
    explicit Document(std::string text = "");

    [[nodiscard]] const std::string& text() const { return text_; }
    /// The byte at a position; behind the end of a line, or of the text, that end.
    [[nodiscard]] std::size_t offset_of(Position position) const;
    /// The position of a byte.
    [[nodiscard]] Position position_of(std::size_t offset) const;
    /// Puts a text in the place of a stretch.
    void replace(Stretch stretch, std::string_view by);

private:
    std::string text_;
    std::vector<std::size_t> starts_; ///< of lines, in bytes
};

/// `{"start": {"line": 0, "character": 4}, "end": …}`.
source::Json range_json(const Document& document, Stretch stretch);
/// From JSON; what it lacks is 0.
Position position_in(const source::Json& json);

} // namespace hestrel::serve
