#pragma once
// Texts in XML and HTML.

#include <string>
#include <string_view>

namespace hestrel::source {

/// A text of characters that XML has a place for: others are blanks, and so are bytes that are no
/// UTF-8. Line ends stay.
std::string xml_characters(std::string_view text);

/// A text as it can stand in an element, or in an attribute in double quotes: what means something
/// there is written as a reference, what is no character of XML as a blank.
std::string xml_text(std::string_view text);

} // namespace hestrel::source
