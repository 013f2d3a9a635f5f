#include "manual/man_page.hpp"

#include "source/lines.hpp"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <span>
#include <vector>

namespace hestrel::manual {

namespace {

/// A text in which nothing means anything to roff, in ASCII.
std::string roff(std::string_view text) {
    constexpr std::string_view dots = "\xe2\x80\xa6"; // the only other character of the texts
    std::string safe;
    bool begins = true;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (begins && (c == '.' || c == '\'')) safe += "\\&";
        if (text.substr(i).starts_with(dots)) {
            safe += "...";
            i += dots.size() - 1;
        } else if (c == '\\') {
            safe += "\\e";
        } else if (c == '-') {
            safe += "\\-";
        } else {
            safe += c;
        }
        begins = c == '\n';
    }
    return safe;
}

std::string capitals(std::string_view text) {
    std::string all(text);
    for (char& c : all) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    return all;
}

/// `name` as the page is called: "hestrel\-walk".
std::string heading(const std::string& name, const std::string& version, std::string_view says) {
    return fmt::format(".TH {} 1 \"\" \"hestrel {}\" \"Hestrel\"\n.SH NAME\n{} \\- {}\n",
                       roff(capitals(name)), version, roff(name), roff(says));
}

/// What --help says below its first line: paragraphs, and lists and examples, which are indented,
/// as they are.
std::string paragraphs(std::span<const std::string_view> lines) {
    std::string text;
    bool as_it_is = false;
    const auto end_of_example = [&] {
        if (as_it_is) text += ".EE\n.RE\n";
        as_it_is = false;
    };
    for (const std::string_view line : lines) {
        if (line.starts_with("  ")) {
            if (!as_it_is) text += ".PP\n.RS\n.EX\n";
            as_it_is = true;
            text += roff(line.substr(2)) + "\n";
            continue;
        }
        end_of_example();
        text += line.empty() ? ".PP\n" : roff(line) + "\n";
    }
    end_of_example();
    return text;
}

std::string options_section(const boost::program_options::options_description& options) {
    std::string text = ".SH OPTIONS\n";
    for (const auto& option : options.options()) {
        const std::string name = option->format_name(); // "-h [ --help ]", "--out"
        std::string shown = name;
        if (const std::size_t bracket = name.find(" [ "); bracket != std::string::npos)
            shown = name.substr(0, bracket) + ", " +
                    name.substr(bracket + 3, name.size() - bracket - 5);
        const std::string parameter = option->format_parameter();
        text += fmt::format(".TP\n\\fB{}\\fR{}\n{}\n", roff(shown),
                            parameter.empty() ? "" : " \\fI" + roff(parameter) + "\\fR",
                            roff(option->description()));
    }
    return text;
}

std::string exit_status() {
    std::string text = ".SH EXIT STATUS\n";
    for (const command::ExitCode& each : command::exit_codes)
        text += fmt::format(".TP\n{}\n{}\n", each.code, roff(each.meaning));
    return text;
}
} // namespace

std::string man_page(const command::Command& command, const std::string& version) {
    const std::string name = fmt::format("hestrel-{}", command.name);
    std::vector<std::string_view> lines = source::lines_of(command.usage);
    constexpr std::string_view usage = "usage: ";
    std::string synopsis;
    while (!lines.empty() && !lines.front().empty()) {
        std::string_view line = lines.front();
        if (line.starts_with(usage)) line.remove_prefix(usage.size());
        line.remove_prefix(std::min(line.find_first_not_of(' '), line.size()));
        synopsis += fmt::format("{}\n.br\n", roff(line));
        lines.erase(lines.begin());
    }
    if (!lines.empty()) lines.erase(lines.begin());
    return heading(name, version, command.answers) + ".SH SYNOPSIS\n.nh\n" + synopsis + ".hy\n" +
           ".SH DESCRIPTION\n" + paragraphs(lines) + options_section(command.options) +
           exit_status() + ".SH SEE ALSO\n.BR hestrel (1)\n";
}

std::string overview_page(const std::string& version) {
    std::string text =
        heading("hestrel", version, "what a plan of levels does before anything is built");
    text += ".SH SYNOPSIS\n.B hestrel\n.I COMMAND\n.RI [ ARGUMENT ...]\n.SH COMMANDS\n";
    for (const command::Command& each : command::commands())
        text += fmt::format(".TP\n\\fB{}\\fR {}\n{}\n", roff(each.name), roff(each.arguments),
                            roff(each.answers));
    text += exit_status() + ".SH SEE ALSO\n";
    for (const command::Command& each : command::commands())
        text += fmt::format(".BR hestrel\\-{} (1){}\n", roff(each.name),
                            &each == &command::commands().back() ? "" : ",");
    return text;
}

std::string mpi_page(const std::string& version) {
    std::string text = heading("hestrel-mpi", version, "explore and spread by several processes") +
                       ".SH SYNOPSIS\n";
    for (const command::Command& each : command::commands()) {
        if (each.together)
            text +=
                fmt::format("mpirun \\-n \\fIN\\fR hestrel\\-mpi {} {} [\\fIOPTION\\fR...]\n.br\n",
                            roff(each.name), roff(each.arguments));
    }
    return text + ".SH DESCRIPTION\n" +
           roff("Several processes, on one machine or on many, share the work of one command.\n"
                "Options, files and results are those of hestrel, to the byte, whatever the number "
                "of processes.\n"
                "Only the first process writes files and prints.\n") +
           exit_status() + ".SH SEE ALSO\n.BR hestrel (1),\n.BR mpirun (1)\n";
}

} // namespace hestrel::manual
