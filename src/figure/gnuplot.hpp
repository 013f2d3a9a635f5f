#pragma once
// Running the programs that draw: a script goes in, a picture comes out.

#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::figure {

/// A figure could not be drawn: gnuplot or Graphviz is missing or refused the script.
class DrawingError : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

enum class Picture : std::uint8_t { svg, png };

/// A script for gnuplot, which sets no terminal and no output, and the size of its picture in
/// pixels.
struct Script {
    std::string text;
    double width = 0;
    double height = 0;
};

/// What became of a figure: a picture, or why there is none.
struct Drawn {
    std::string picture;
    std::string problem; ///< empty where there is a picture
};

/// Runs gnuplot on scripts, one after another in one process: starting it takes longer than most
/// figures. One that it refuses, or breaks off at, costs no other its picture.
std::vector<Drawn> run_gnuplot(const std::vector<Script>& scripts, Picture picture);

/// Runs Graphviz' dot on a graph. Throws DrawingError.
std::string run_dot(const std::string& graph, Picture picture);

/// A text as a gnuplot string literal: nothing in it is taken for a command or for markup (scripts
/// set `noenhanced`). What can't be printed is a space.
std::string gnuplot_string(std::string_view text);

} // namespace hestrel::figure
