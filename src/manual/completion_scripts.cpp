#include "manual/completion_scripts.hpp"

#include "command/commands.hpp"
#include "command/embedded.hpp"
#include "command/page_text.hpp"
#include "source/embedded.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <stdexcept>
#include <string_view>
#include <vector>

namespace hestrel::manual {

const std::vector<source::EmbeddedFile>& embedded_scripts();

namespace {

/// What stands behind an option.
enum class Follows : std::uint8_t { nothing, list, words, folder, file, other };

struct Option {
    std::string name; ///< "--device"
    std::string description;
    Follows follows = Follows::nothing;
    std::string from; ///< the list of `hestrel show` with its names, or words with blanks between
};

Option option_of(const boost::program_options::option_description& described) {
    Option option{"--" + described.long_name(), described.description(), Follows::nothing, ""};
    const std::string parameter = described.format_parameter();
    if (parameter.empty()) return option;
    option.follows = Follows::other;
    const std::string& name = described.long_name();
    for (const auto& [with, list] : {std::pair{"device", "devices"}, std::pair{"route", "routes"},
                                     std::pair{"edition", "editions"}}) {
        if (name == with) return {option.name, option.description, Follows::list, list};
    }
    if (parameter.find("DIR") != std::string::npos) option.follows = Follows::folder;
    if (parameter.find("FILE") != std::string::npos) option.follows = Follows::file;
    // "text|json|csv"
    const bool words = parameter.find('|') != std::string::npos &&
                       std::none_of(parameter.begin(), parameter.end(),
                                    [](char c) { return c >= 'A' && c <= 'Z'; });
    if (words) {
        option.follows = Follows::words;
        for (const char c : parameter) {
            if (c == '|')
                option.from += ' ';
            else if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-')
                option.from += c;
            else
                break; // a default value follows
        }
    }
    return option;
}

std::vector<Option> options_of(const command::Command& command) {
    std::vector<Option> options;
    for (const auto& each : command.options.options()) options.push_back(option_of(*each));
    return options;
}

/// The list of `hestrel show` from which an argument behind the plan comes; empty for another.
std::string list_of(const command::Command& command, std::size_t position) {
    if (position >= command.positionals.size()) return {};
    const std::string& name = command.positionals[position];
    if (name == "name" || name == "to" || name == "level" || name == "old") return "levels";
    return {};
}

/// The words that the first argument can be, with blanks between; empty where it can be any.
std::string words_of(const command::Command& command) {
    std::string words;
    if (command.positionals.empty() || command.positionals.front() != "topic") return words;
    for (const source::EmbeddedFile& page : command::embedded_pages())
        words += (words.empty() ? "" : " ") + command::topic_of(page.name);
    return words;
}

/// A script of `scripts/` with what is made of the tables in it.
std::string script(const std::string& name, std::string_view commands, std::string_view cases) {
    const auto without_end = [](std::string_view text) {
        while (text.ends_with('\n')) text.remove_suffix(1);
        return text;
    };
    for (const source::EmbeddedFile& file : embedded_scripts()) {
        if (file.name != name) continue;
        std::string text = file.text;
        for (const auto& [mark, by] :
             {std::pair<std::string_view, std::string_view>{"@COMMANDS@", commands},
              {"@CASES@", cases}})
            text.replace(text.find(mark), mark.size(), without_end(by));
        return text;
    }
    throw std::logic_error("there is no script " + name);
}

std::string in_single_quotes(std::string_view text) {
    std::string quoted = "'";
    for (const char c : text) quoted += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return quoted + "'";
}

} // namespace

std::string bash_completion() {
    std::string names;
    std::string cases;
    for (const command::Command& each : command::commands()) {
        names += (names.empty() ? "" : " ") + std::string(each.name);
        std::string options;
        std::string behind;
        for (const Option& option : options_of(each)) {
            options += (options.empty() ? "" : " ") + option.name;
            switch (option.follows) {
            case Follows::list:
                behind += fmt::format("        {}) _hestrel_names {}; return ;;\n", option.name,
                                      option.from);
                break;
            case Follows::words:
                behind += fmt::format(
                    "        {}) COMPREPLY=($(compgen -W '{}' -- \"$word\")); return ;;\n",
                    option.name, option.from);
                break;
            case Follows::folder:
                behind += fmt::format(
                    "        {}) COMPREPLY=($(compgen -d -- \"$word\")); return ;;\n", option.name);
                break;
            case Follows::other:
                behind += fmt::format("        {}) return ;;\n", option.name);
                break;
            default: break;
            }
        }
        cases += fmt::format("    {})\n      options='{}'\n", each.name, options);
        if (!behind.empty()) cases += "      case $before in\n" + behind + "      esac\n";
        if (const std::string list = list_of(each, 1); !list.empty())
            cases += fmt::format(
                "      [[ $word == -* || $COMP_CWORD -lt 3 ]] || _hestrel_names {}\n", list);
        if (const std::string words = words_of(each); !words.empty())
            cases += fmt::format("      [[ $word == -* ]] || mapfile -t COMPREPLY < <(compgen -W "
                                 "'{}' -- \"$word\")\n",
                                 words);
        cases += "      ;;\n";
    }
    return script("hestrel.bash", names, cases);
}

std::string zsh_completion() {
    std::string commands;
    std::string cases;
    for (const command::Command& each : command::commands()) {
        commands += fmt::format("    {}\n",
                                in_single_quotes(fmt::format("{}:{}", each.name, each.answers)));
        cases += fmt::format("    {})\n      _arguments \\\n", each.name);
        for (const Option& option : options_of(each)) {
            std::string said = option.description;
            std::replace(said.begin(), said.end(), '[', '(');
            std::replace(said.begin(), said.end(), ']', ')');
            std::string spec = fmt::format("*{}[{}]", option.name, said);
            switch (option.follows) {
            case Follows::list:
                spec += fmt::format(":{}:_hestrel_names {}", option.from, option.from);
                break;
            case Follows::words: spec += fmt::format(":word:({})", option.from); break;
            case Follows::folder: spec += ":folder:_files -/"; break;
            case Follows::file: spec += ":file:_files"; break;
            case Follows::other: spec += ":value:"; break;
            case Follows::nothing: break;
            }
            cases += fmt::format("        {} \\\n", in_single_quotes(spec));
        }
        const std::string list = list_of(each, 1);
        if (!list.empty()) cases += fmt::format("        '2:name:_hestrel_names {}' \\\n", list);
        if (const std::string words = words_of(each); !words.empty())
            cases += fmt::format("        '1:topic:({})' \\\n", words);
        cases += "        '*:file:_files'\n      ;;\n";
    }
    return script("_hestrel", commands, cases);
}

std::string fish_completion() {
    std::string commands;
    std::string cases;
    for (const command::Command& each : command::commands())
        commands += fmt::format("complete -c hestrel -n __fish_use_subcommand -f -a {} -d {}\n",
                                each.name, in_single_quotes(each.answers));
    for (const command::Command& each : command::commands()) {
        const std::string in_it =
            fmt::format("complete -c hestrel -n '__fish_seen_subcommand_from {}'", each.name);
        for (const Option& option : options_of(each)) {
            cases += fmt::format("{} -l {} -d {}", in_it, option.name.substr(2),
                                 in_single_quotes(option.description));
            switch (option.follows) {
            case Follows::list:
                cases += fmt::format(" -x -a '(__hestrel_names {})'", option.from);
                break;
            case Follows::words: cases += fmt::format(" -x -a '{}'", option.from); break;
            case Follows::folder: cases += " -x -a '(__fish_complete_directories)'"; break;
            case Follows::file: cases += " -r"; break;
            case Follows::other: cases += " -x"; break;
            case Follows::nothing: break;
            }
            cases += "\n";
        }
        if (const std::string list = list_of(each, 1); !list.empty())
            cases += fmt::format("{} -a '(__hestrel_names {})'\n", in_it, list);
        if (const std::string words = words_of(each); !words.empty())
            cases += fmt::format("{} -f -a '{}'\n", in_it, words);
    }
    return script("hestrel.fish", commands, cases);
}

} // namespace hestrel::manual
