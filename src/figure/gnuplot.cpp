#include "figure/gnuplot.hpp"

#include "source/leftovers.hpp"
#include "source/xml.hpp"

#include <algorithm>
#include <boost/process.hpp>
#include <chrono>
#include <cstdlib>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <iterator>
#include <optional>
#include <thread>
#include <unistd.h>

namespace hestrel::figure {

namespace {

/// A folder of its own for one run, removed when it goes out of scope.
class ScratchFolder {
public:
    ScratchFolder() {
        std::error_code odd;
        const std::filesystem::path place = std::filesystem::temp_directory_path(odd);
        std::string name = (place / "hestrel-XXXXXX").string();
        if (odd || ::mkdtemp(name.data()) == nullptr) {
            const char* wanted = std::getenv("TMPDIR");
            throw DrawingError(fmt::format("no temporary folder to draw in can be made in {}{}",
                                           wanted != nullptr ? wanted : place.string(),
                                           wanted != nullptr ? " (TMPDIR)" : ""));
        }
        path_ = name;
        leftover_.emplace(name);
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
    std::optional<source::Leftover> leftover_;
};

std::string contents(const std::string& path) {
    std::ifstream file(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

/// Waits for a program, but not for ever. Throws DrawingError where that takes too long.
void wait_for(boost::process::child& child, const std::string& program) {
    using namespace std::chrono_literals;
    constexpr auto longest = 120s; // of a machine at its work; a figure takes far less
    constexpr auto longest_nap = 20ms;
    const auto end = std::chrono::steady_clock::now() + longest;
    for (auto nap = 1ms; child.running();
         nap = std::min(2 * nap, std::chrono::milliseconds(longest_nap))) {
        if (std::chrono::steady_clock::now() > end) {
            child.terminate();
            throw DrawingError(
                fmt::format("{} took more than {} s for a figure", program, longest.count()));
        }
        std::this_thread::sleep_for(nap);
    }
}

/// Runs a program with `input` on its standard input, from a file, and returns what it wrote to its
/// standard output. It never gets a path to read: some of them take one for a command.
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
    boost::process::child child(
        found, boost::process::args(options),
        boost::process::std_in<scratch.file("input"), boost::process::std_out> scratch.file(
            "picture"),
        boost::process::std_err > scratch.file("problems"));
    wait_for(child, program);
    std::string drawn = contents(scratch.file("picture"));
    if (child.exit_code() != 0 || drawn.empty()) {
        throw DrawingError(fmt::format("{} could not draw a figure: {}", program,
                                       contents(scratch.file("problems"))));
    }
    return drawn;
}

} // namespace

std::string run_gnuplot(const std::string& script, Picture picture, double width, double height) {
    // The terminal for PNG takes text sizes in points, of which there are three to four pixels.
    const std::string set = fmt::format(
        "set encoding utf8\nset terminal {} noenhanced size {:.0f},{:.0f} font 'DejaVu Sans,12' "
        "background '#ffffff'\n",
        picture == Picture::svg ? "svg" : "pngcairo fontscale 0.75", width, height);
    return run("gnuplot", "gnuplot-nox", {"-d"}, set + script); // -d: no start-up file of a user's
}

std::string run_dot(const std::string& graph, Picture picture) {
    return run("dot", "graphviz", {picture == Picture::svg ? "-Tsvg" : "-Tpng"}, graph);
}

std::string gnuplot_string(std::string_view text) {
    // In single quotes nothing is special but the quote itself; in double quotes backquotes run
    // commands.
    std::string literal = "'";
    for (const char c : source::xml_characters(text)) {
        if (c == '\'') literal += '\'';
        literal += c == '\n' ? ' ' : c;
    }
    return literal + "'";
}

std::string dot_string(std::string_view text, Lines lines) {
    std::string literal = "\"";
    for (const char c : source::xml_characters(text)) {
        switch (c) {
        case '"': literal += "\\\""; break;
        case '\\': literal += "\\\\"; break;
        case '&': literal += "&amp;"; break;
        case '\n': literal += lines == Lines::left ? "\\l" : "\\n"; break;
        default: literal += c;
        }
    }
    return literal + "\"";
}

} // namespace hestrel::figure
