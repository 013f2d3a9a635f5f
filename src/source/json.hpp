#pragma once
// How the program writes JSON: keys in the order they were put in, one space a level; and reads
// what others may have written.

#include "source/own_mark.hpp"

#include <nlohmann/json.hpp>
#include <string>

namespace hestrel::source {

using Json = nlohmann::ordered_json;

/// From JSON (RFC 8259) or CBOR (RFC 8949). Discarded (`is_discarded`) where the text is none, or
/// is nested deeper than anything of ours: who takes it apart may go down level by level.
Json parsed(const std::string& text, Json::input_format_t format = Json::input_format_t::json);

/// The file's whole text. A byte that is not UTF-8, as a file's name may have, becomes U+FFFD.
inline std::string file_text(const Json& json) {
    return json.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

/// The same of an object that becomes a single file: its first line says that it is ours. `key` is
/// where the format has room for a comment.
inline std::string single_file_text(const Json& json, const std::string& key = "comment",
                                    const Json& comment = own_mark) {
    const std::string mark = Json{{key, comment}}.dump();
    return mark.substr(0, mark.size() - 1) + "," + file_text(json).substr(1);
}

/// A single file whose last member is a list that may be long: an element is text as soon as it is
/// there. What comes of it is what `single_file_text` makes of the whole.
class ListFile {
public:
    /// `head` has everything but the list.
    ListFile(Json head, const std::string& list);
    void add(const Json& element);
    [[nodiscard]] std::string take();

private:
    std::string text_;
    std::string end_; ///< what stands behind the list
    bool any_ = false;
};

} // namespace hestrel::source
