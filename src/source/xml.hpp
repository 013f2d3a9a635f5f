#pragma once
// Texts in XML and HTML.

#include <string>
#include <string_view>

namespace hestrel::source {

/// A text as it can stand in an element, or in an attribute in double quotes: what means something
/// there is written as a reference, what is no character of XML as a blank.
std::string xml_text(std::string_view text);

} // namespace hestrel::source
