#include "figure/gnuplot.hpp"

#include "source/disk.hpp"
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
#include <span>
#include <thread>
#include <unistd.h>
#include <utility>

namespace hestrel::figure {

namespace {

constexpr std::chrono::seconds longest_drawing{120}; ///< of a machine at its work; far less will do

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
    [[nodiscard]] std::string folder() const { return path_.string(); }
    [[nodiscard]] std::string file(std::string_view name) const { return (path_ / name).string(); }

private:
    std::filesystem::path path_;
    std::optional<source::Leftover> leftover_;
};

/// What a file says; nothing where the program has written none.
std::string contents(const std::string& path) {
    try {
        return source::RealDisk().read(path);
    } catch (const source::FileError&) {
        return {};
    }
}

/// Waits for a program, but not for ever: what it writes to `signs` of its work keeps it going.
/// Whether it ended by itself.
bool ended_by_itself(boost::process::child& child, const std::string& signs) {
    using namespace std::chrono_literals;
    constexpr auto longest_nap = 20ms;
    auto end = std::chrono::steady_clock::now() + longest_drawing;
    std::uintmax_t seen = 0;
    for (auto nap = 1ms; child.running();
         nap = std::min(2 * nap, std::chrono::milliseconds(longest_nap))) {
        std::error_code none;
        const std::uintmax_t size = std::filesystem::file_size(signs, none);
        if (!none && size != std::exchange(seen, size))
            end = std::chrono::steady_clock::now() + longest_drawing;
        if (std::chrono::steady_clock::now() > end) {
            child.terminate();
            return false;
        }
        std::this_thread::sleep_for(nap);
    }
    return true;
}

/// What came of running a program.
struct Ran {
    int exit_code = 0; ///< not 0 where it took too long, either
    std::string problems;
};

/// Runs a program in a folder of its own, in which `input` is a file of that name; what it writes
/// goes to "output" and "problems" there. It never gets a path of a user's: some programs take one
/// for a command. Throws DrawingError where it can't be run at all.
Ran run(const ScratchFolder& scratch, const std::string& program, const std::string& package,
        const std::vector<std::string>& options, const std::string& input) {
    const auto found = boost::process::search_path(program);
    if (found.empty()) {
        throw DrawingError(fmt::format("{} is not installed, so no figure can be drawn (apt-get "
                                       "install {}, or --no-figures)",
                                       program == "dot" ? "Graphviz" : program, package));
    }
    {
        std::ofstream file(scratch.file("input"), std::ios::binary);
        file << input;
        if (!file.flush())
            throw DrawingError("the script of a figure can't be written to a temporary file");
    }
    const std::string problems = scratch.file("problems");
    boost::process::child child(
        found, boost::process::args(options), boost::process::start_dir(scratch.folder()),
        boost::process::std_in<boost::process::null, boost::process::std_out> scratch.file(
            "output"),
        boost::process::std_err > problems);
    if (!ended_by_itself(child, problems))
        return {1, fmt::format("it took more than {} s", longest_drawing.count())};
    return {child.exit_code(), contents(problems)};
}

std::string not_drawn(std::string_view program, std::string_view problems) {
    return fmt::format("{} could not draw a figure: {}", program, problems);
}

/// What gnuplot prints behind each figure, on its standard error, which is never held back.
constexpr std::string_view behind_each = "-- drawn --\n";

/// Some scripts in one: each begins as if it were the first, and draws into a file of its number.
std::string one_script(std::span<const Script> scripts, Picture picture) {
    std::string all;
    for (std::size_t i = 0; i < scripts.size(); ++i) {
        // The terminal for PNG takes text sizes in points, of which there are three to four pixels.
        all += fmt::format("reset\nundefine $*\nset encoding utf8\n"
                           "set terminal {} noenhanced size {:.0f},{:.0f} font 'DejaVu Sans,12' "
                           "background '#ffffff'\n"
                           "set output '{}'\n{}\nunset output\nprint '{}'\n",
                           picture == Picture::svg ? "svg" : "pngcairo fontscale 0.75",
                           scripts[i].width, scripts[i].height, i, scripts[i].text,
                           behind_each.substr(0, behind_each.size() - 1));
    }
    return all;
}

/// Draws `scripts`, up to the first at which gnuplot breaks off.
std::vector<Drawn> draw_some(std::span<const Script> scripts, Picture picture) {
    const ScratchFolder scratch;
    // -d: no start-up file of a user's. From standard input it reads byte by byte.
    const Ran ran =
        run(scratch, "gnuplot", "gnuplot-nox", {"-d", "input"}, one_script(scripts, picture));
    std::vector<Drawn> drawn;
    std::string_view problems = ran.problems;
    while (drawn.size() < scripts.size()) {
        const std::size_t end = problems.find(behind_each);
        std::string made = contents(scratch.file(fmt::format("{}", drawn.size())));
        if (end == std::string_view::npos || made.empty()) {
            drawn.push_back({{}, not_drawn("gnuplot", problems.substr(0, end))});
            break;
        }
        drawn.push_back({std::move(made), {}});
        problems.remove_prefix(end + behind_each.size());
    }
    return drawn;
}

} // namespace

std::vector<Drawn> run_gnuplot(const std::vector<Script>& scripts, Picture picture) {
    std::vector<Drawn> all;
    try {
        while (all.size() < scripts.size()) {
            std::vector<Drawn> drawn = draw_some(std::span(scripts).subspan(all.size()), picture);
            std::move(drawn.begin(), drawn.end(), std::back_inserter(all));
        }
    } catch (const DrawingError& error) {
        all.resize(scripts.size(), {{}, error.what()});
    }
    return all;
}

std::string run_dot(const std::string& graph, Picture picture) {
    const ScratchFolder scratch;
    const Ran ran = run(scratch, "dot", "graphviz",
                        {picture == Picture::svg ? "-Tsvg" : "-Tpng", "input"}, graph);
    std::string drawn = contents(scratch.file("output"));
    if (ran.exit_code != 0 || drawn.empty()) throw DrawingError(not_drawn("dot", ran.problems));
    return drawn;
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

} // namespace hestrel::figure
