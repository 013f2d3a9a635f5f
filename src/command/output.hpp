#pragma once
// All that a command puts out: results on standard output, files in its folder, everything else on
// standard error. Where both streams go to one file their order there is the order of the calls.

#include "command/options.hpp"
#include "figure/svg.hpp"
#include "source/disk.hpp"
#include "source/inputs.hpp"
#include "source/output_disk.hpp"

#include <map>
#include <mutex>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace hestrel::command {

/// A line on standard error, behind what was printed until then, as a terminal may get it. Where
/// standard error takes nothing there is nobody to tell.
void say(std::string_view line);

/// The first of many, a line each, and how many more there are; whether there were any.
bool say_errors(const std::vector<std::string>& errors);

/// Whether all results went out, or to a reader that wanted no more of them (as `head` does).
bool results_are_out();

/// Figures that are drawn together, by the names of their files.
struct NamedFigures {
    std::vector<std::string> names;
    std::vector<figure::Figure> figures;

    void add(std::string name, figure::Figure figure) {
        names.push_back(std::move(name));
        figures.push_back(std::move(figure));
    }
};

/// The output of one run of a command.
class Output {
public:
    explicit Output(const CommonOptions& options) : options_(options) {}

    /// What this run has read: no file that it writes takes the place of that.
    [[nodiscard]] source::Inputs& inputs() { return files_.inputs(); }
    /// To read from.
    [[nodiscard]] source::Disk& disk() { return noting_; }

    /// A result for people, on standard output, as a terminal may get it.
    static void print(std::string_view text);
    /// The same, where what is painted (`\x1b[31m`) keeps its colour.
    static void print_painted(std::string_view text);
    /// A result for a program: byte for byte, but on a terminal, which could act on it.
    static void put(std::string_view data);
    /// In the form that was asked for; `text` makes the one for people. Nothing where it is to be
    /// quiet.
    template <class Text>
    void print(const std::string& json, const std::string& csv, Text&& text) {
        if (options_.quiet) return;
        switch (options_.format) {
        case OutputFormat::json: put(json); break;
        case OutputFormat::csv: put(csv); break;
        case OutputFormat::text: print(text()); break;
        }
    }
    /// A line for people, unless it is to be quiet.
    void say(std::string_view line) const {
        if (!options_.quiet) command::say(line);
    }

    /// A file in the command's folder.
    void write(const std::string& name, const std::string& text) {
        write_in(options_.out, name, text);
    }
    /// A file in another folder of results.
    void write_in(const std::string& folder, const std::string& name, const std::string& text) {
        files_.write_in(folder, name, text);
    }
    /// Throws where the next could not be written, before there is work to lose.
    void require_alone(const std::string& path, bool is_known = false) {
        files_.require_alone(path, is_known);
    }
    /// A single file; `is_known`: it was read as one of ours before.
    void write_alone(const std::string& path, const std::string& text, bool is_known = false) {
        files_.write_alone(path, text, is_known);
    }
    /// Figures there, as SVG, and as PNG where that was asked for. Many are drawn in hardly more
    /// time than one. What can't be drawn is told by `require_drawn`. Can be called from several
    /// threads.
    void draw(const NamedFigures& named);
    void draw(const std::string& name, const figure::Figure& figure) {
        draw(NamedFigures{{name}, {figure}});
    }
    void draw(const std::string& name, const figure::Graph& graph);
    /// Throws figure::DrawingError where any figure could not be drawn.
    void require_drawn() const;
    [[nodiscard]] bool draws() const { return options_.figures; }
    /// Says where the files are.
    void say_files() const { say("files: " + options_.out + "/"); }

    /// Whether anybody watches how far it has come.
    [[nodiscard]] bool shows_progress() const;
    /// Over what was shown before.
    static void show_progress(std::string_view text);
    /// Takes it away.
    static void clear_progress();

private:
    const CommonOptions& options_;
    source::RealDisk disk_;
    source::OutputDisk files_{disk_, options_.force};
    source::NotingDisk noting_{disk_, files_.inputs()};
    std::mutex drawing_;
    std::map<std::string, std::string> undrawn_; ///< by name of the figure: why
};

} // namespace hestrel::command
