#pragma once
// An SVG as it stands in a page: what programs write around each shape, and nobody sees, left out.

#include <string>
#include <string_view>

namespace hestrel::figure {

/// The `svg` element alone, without prolog, in about a third of the bytes: groups of one shape
/// become that shape, places are to a tenth of a pixel, colours are "#rrggbb", every `id` that is
/// left begins with `prefix`. It looks the same. A text that is no XML is left as it is.
std::string slim_svg(std::string_view svg, std::string_view prefix);

} // namespace hestrel::figure
