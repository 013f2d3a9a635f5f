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

} // namespace

std::string draw(const std::string& script, Picture picture, int width, int height) {
    const auto program = boost::process::search_path("gnuplot");
    if (program.empty()) {
        throw DrawingError(
            "gnuplot is not installed, so no figure can be drawn (apt-get install gnuplot-nox, or "
            "--no-figures)");
    }
    const ScratchFolder scratch;
    const std::string font = "DejaVu Sans,12";
    {
        std::ofstream file(scratch.file("figure.gp"), std::ios::binary);
        file << fmt::format(
                    "set encoding utf8\nset terminal {} size {},{} font {} background '#ffffff'\n",
                    picture == Picture::svg ? "svg noenhanced" : "pngcairo noenhanced", width,
                    height, gnuplot_string(font))
             << script;
        if (!file.flush())
            throw DrawingError("the script of a figure can't be written to a temporary file");
    }
    boost::process::child gnuplot(
        program, scratch.file("figure.gp"),
        boost::process::std_in<boost::process::null, boost::process::std_out> scratch.file(
            "picture"),
        boost::process::std_err > scratch.file("problems"));
    gnuplot.wait();
    std::string drawn = contents(scratch.file("picture"));
    if (gnuplot.exit_code() != 0 || drawn.empty()) {
        throw DrawingError(
            fmt::format("gnuplot could not draw a figure: {}", contents(scratch.file("problems"))));
    }
    return drawn;
}

std::string gnuplot_string(std::string_view text) {
    // In single quotes nothing is special but the quote itself; in double quotes backquotes run
    // commands.
    std::string literal = "'";
    for (const char c : text) {
        if (c == '\'') literal += '\'';
        literal += c == '\n' || c == '\r' ? ' ' : c;
    }
    return literal + "'";
}

} // namespace hestrel::figure
