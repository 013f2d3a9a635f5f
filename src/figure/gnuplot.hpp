#pragma once
// Running gnuplot: a script goes in, a picture comes out.

#include <stdexcept>
#include <string>
#include <string_view>

namespace hestrel::figure {

/// A figure could not be drawn: gnuplot is missing or refused the script.
class DrawingError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

enum class Picture : std::uint8_t { svg, png };

/// Runs a script, which must not set a terminal or an output, and returns the picture. Throws
/// DrawingError.
std::string draw(const std::string& script, Picture picture, int width, int height);

/// A text as a gnuplot string literal: nothing in it is taken for a command or for markup (scripts
/// set `noenhanced`).
std::string gnuplot_string(std::string_view text);

} // namespace hestrel::figure
