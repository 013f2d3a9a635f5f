#include "figure/gnuplot.hpp"

#include <boost/process.hpp>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <iterator>
#include <unistd.h>

namespace hestrel::figure {

namespace {

/// A folder of its own for one run, removed when it goes out of scope.
class ScratchFolder {
public:
    ScratchFolder() {
        std::string name = (std::filesystem::temp_directory_path() / "hestrel-XXXXXX").string();
        if (::mkdtemp(name.data()) == nullptr)
            throw DrawingError("no temporary folder can be made to draw in");
        path_ = name;
    }
    ScratchFolder(const ScratchFolder&) = delete;
    ScratchFolder& operator=(const ScratchFolder&) = delete;
    ~ScratchFolder() {
        std::error_code ignored;
        std::filesystem::remove_all(path_, ignored);
    }
    [[nodiscard]] std::string file(std::string_view name) const { return (path_ / name).string(); }

private:
    std::filesystem::path path_;
};

std::string contents(const std::string& path) {
    std::ifstream file(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

/// Runs a program on a file with `input` and returns what it wrote to its standard output.
std::string run(const std::string& program, const std::string& package,
                const std::vector<std::string>& options, const std::string& input) {
    const auto found = boost::process::search_path(program);
    if (found.empty()) {
        throw DrawingError(fmt::format("{} is not installed, so no figure can be drawn (apt-get "
                                       "install {}, or --no-figures)",
                                       program == "dot" ? "Graphviz" : program, package));
    }
    const ScratchFolder scratch;
    {
        std::ofstream file(scratch.file("input"), std::ios::binary);
        file << input;
        if (!file.flush())
            throw DrawingError("the script of a figure can't be written to a temporary file");
    }
    std::vector<std::string> arguments = options;
    arguments.push_back(scratch.file("input"));
    boost::process::child child(
        found, boost::process::args(arguments),
        boost::process::std_in<boost::process::null, boost::process::std_out> scratch.file(
            "picture"),
        boost::process::std_err > scratch.file("problems"));
    child.wait();
    std::string drawn = contents(scratch.file("picture"));
    if (child.exit_code() != 0 || drawn.empty()) {
        throw DrawingError(fmt::format("{} could not draw a figure: {}", program,
                                       contents(scratch.file("problems"))));
    }
    return drawn;
}

bool can_be_printed(char c) {
    constexpr unsigned char first = 0x20;
    constexpr unsigned char deleted = 0x7F;
    return static_cast<unsigned char>(c) >= first && static_cast<unsigned char>(c) != deleted;
}

} // namespace

std::string run_gnuplot(const std::string& script, Picture picture, double width, double height) {
    // The terminal for PNG takes text sizes in points, of which there are three to four pixels.
    const std::string set = fmt::format(
        "set encoding utf8\nset terminal {} noenhanced size {:.0f},{:.0f} font 'DejaVu Sans,12' "
        "background '#ffffff'\n",
        picture == Picture::svg ? "svg" : "pngcairo fontscale 0.75", width, height);
    return run("gnuplot", "gnuplot-nox", {}, set + script);
}

std::string run_dot(const std::string& graph, Picture picture) {
    return run("dot", "graphviz", {picture == Picture::svg ? "-Tsvg" : "-Tpng"}, graph);
}

std::string gnuplot_string(std::string_view text) {
    // In single quotes nothing is special but the quote itself; in double quotes backquotes run
    // commands.
    std::string literal = "'";
    for (const char c : text) {
        if (c == '\'') literal += '\'';
        literal += can_be_printed(c) ? c : ' ';
    }
    return literal + "'";
}

std::string dot_string(std::string_view text, Lines lines) {
    std::string literal = "\"";
    for (const char c : text) {
        switch (c) {
        case '"': literal += "\\\""; break;
        case '\\': literal += "\\\\"; break;
        case '&': literal += "&amp;"; break;
        case '\n': literal += lines == Lines::left ? "\\l" : "\\n"; break;
        default: literal += can_be_printed(c) ? c : ' ';
        }
    }
    return literal + "\"";
}

} // namespace hestrel::figure
