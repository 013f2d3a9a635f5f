#include "command/play_lines.hpp"

#include "command/play_text.hpp"
#include "command/reading.hpp"
#include "command/terminal.hpp"
#include "edit/add_route.hpp"
#include "edit/applied.hpp"
#include "plan/names.hpp"
#include "source/did_you_mean.hpp"
#include "source/read_context.hpp"
#include "source/utf8.hpp"
#include "tables/route_yaml.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

constexpr std::string_view blanks = " \t\r";

std::string_view trimmed(std::string_view text) {
    const std::size_t from = text.find_first_not_of(blanks);
    if (from == std::string_view::npos) return {};
    return text.substr(from, text.find_last_not_of(blanks) - from + 1);
}

/// The first word of a text, which is left without it.
std::string_view take_word(std::string_view& text) {
    const std::size_t end = std::min(text.find_first_of(blanks), text.size());
    const std::string_view word = text.substr(0, end);
    text = trimmed(text.substr(end));
    return word;
}

std::optional<std::size_t> whole_number(std::string_view text) {
    std::size_t number = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), number);
    if (read.ec != std::errc{} || read.ptr != text.data() + text.size()) return std::nullopt;
    return number;
}

template <class Id, class T>
std::vector<std::string> names_of(const plan::Table<Id, T>& table) {
    std::vector<std::string> names;
    for (const T& each : table) names.push_back(each.name);
    return names;
}

template <class Id, class T>
Id find_in(const plan::Table<Id, T>& table, std::string_view name) {
    for (const Id id : table.ids()) {
        if (table[id].name == name) return id;
    }
    return {};
}

std::string no_such(std::string_view kind, std::string_view name,
                    const std::vector<std::string>& known) {
    const std::vector<std::string_view> views(known.begin(), known.end());
    return fmt::format("no {} is called \"{}\"{}\n", kind, name, source::hint(name, views));
}

/// A message within the columns that answers have.
std::string told(const std::string& message) {
    constexpr std::size_t columns = text_columns;
    return wrapped(message, columns, "");
}

constexpr std::string_view help_text =
    R"(go WAYPOINT [SPEED]   walk there, the shortest way      with PLAYER    play another player
press MENU.ITEM       press an item of an open menu     undo [N]       take the last steps back
N                     do the Nth thing offered          why LEVEL      who asked for it, and when
pause TIME            wait so long: 2, 300 ms           device NAME    the same on another device
until CONDITION       wait until it holds               save NAME      print what was played as a route
pick BRANCH           take it at a choose               save NAME FILE put it into that plan file
expect CONDITION      say what must hold here           help           this
expect now            keep what holds as expectation    quit           the end; so is end of file
set FACT: VALUE       set it, as if the game had        (an empty line tells again how things stand)
launch again          switch off, launch anew: only what was saved is left
)";

} // namespace

/// What a line can begin with.
struct PlayLines::Verb {
    std::string_view word;
    std::string (PlayLines::*answer)(std::string_view);
};

const std::vector<PlayLines::Verb>& PlayLines::verbs() {
    static const std::vector<Verb> all{{"go", &PlayLines::go},
                                       {"press", nullptr},
                                       {"pause", nullptr},
                                       {"until", nullptr},
                                       {"pick", nullptr},
                                       {"after", nullptr},
                                       {"set", &PlayLines::set},
                                       {"launch", &PlayLines::launch},
                                       {"expect", &PlayLines::expect},
                                       {"with", &PlayLines::with},
                                       {"undo", &PlayLines::undo},
                                       {"why", &PlayLines::why},
                                       {"save", &PlayLines::save},
                                       {"device", &PlayLines::device},
                                       {"help", &PlayLines::help},
                                       {"quit", &PlayLines::quit}};
    return all;
}

PlayLines::PlayLines(source::OpenPlan& open, PlanOnDisk& disk, play::Session& session, bool colour)
    : open_(open), disk_(disk), session_(session), colour_(colour) {}

std::string PlayLines::state() const {
    return play_answer(session_, colour_);
}

std::string PlayLines::answer(std::string_view line) {
    constexpr std::size_t longest = 10'000;
    if (line.size() > longest || !source::is_utf8(line)) return "that is no line of text\n";
    std::string_view rest = trimmed(line);
    if (rest.empty()) return state();
    if (rest.front() == '#') return {};
    const std::string_view word = take_word(rest);
    if (whole_number(word)) return number(word);
    for (const Verb& verb : verbs()) {
        if (verb.word == word)
            return verb.answer != nullptr ? (this->*verb.answer)(rest) : step(word, rest);
    }
    std::vector<std::string_view> known;
    for (const Verb& verb : verbs()) known.push_back(verb.word);
    return fmt::format("nothing begins with \"{}\"{}; `help` tells what can be typed\n",
                       source::visible(word), source::hint(word, known));
}

std::string PlayLines::number(std::string_view word) {
    const std::vector<play::Possible> possible = play::possible(session_);
    const std::size_t number = whole_number(word).value_or(0);
    if (number == 0 || number > possible.size()) {
        return possible.empty()
                   ? "nothing can be done here but `undo`, `device` and `quit`\n"
                   : fmt::format("there is no {}: 1 to {} can be done\n", word, possible.size());
    }
    const std::string line = line_of(session_, possible[number - 1]);
    return line + "\n" + answer(line);
}

std::string PlayLines::step(std::string_view key, std::string_view rest) {
    if (rest.empty()) return fmt::format("{} what? `help` tells what can be typed\n", key);
    const bool plain = key == "pause"; // a number is one only without quotes
    const std::string yaml =
        fmt::format("{}: {}", key, plain ? std::string(rest) : in_quotes(rest));
    return played(yaml, rest, key.size() + (plain ? 2 : 3));
}

std::string PlayLines::go(std::string_view rest) {
    if (rest.empty()) return "go where? To a waypoint, such as one of those that are offered\n";
    const std::string_view to = take_word(rest);
    std::string yaml = fmt::format("{{go: {}", in_quotes(to));
    if (!rest.empty()) yaml += fmt::format(", speed: {}", in_quotes(rest));
    return played(yaml + "}", to, 0);
}

std::string PlayLines::set(std::string_view rest) {
    if (rest.empty()) return "set what? `set has_pass: true`\n";
    return played(fmt::format("set: {{{}}}", rest), rest, 0);
}

std::string PlayLines::launch(std::string_view rest) {
    if (rest != "again") return "launch how? `launch again`\n";
    return played("launch: again", rest, 0);
}

std::string PlayLines::expect(std::string_view rest) {
    if (rest.empty()) return "expect what? A condition, or `now` to keep what holds\n";
    const std::size_t within = rest.rfind(" within ");
    std::string problem;
    if (rest == "now") {
        problem = played("expect: now", rest, 0);
    } else if (within != std::string_view::npos) {
        constexpr std::size_t word = 8; // " within "
        problem = played(fmt::format("expect: {{that: {}, within: {}}}",
                                     in_quotes(rest.substr(0, within)), rest.substr(within + word)),
                         rest.substr(0, within), 16);
    } else {
        problem = played("expect: " + in_quotes(rest), rest, 9);
    }
    const auto& expectations = session_.record().expectations;
    const std::size_t steps = session_.player_now().steps.size();
    const auto last = std::find_if(expectations.begin(), expectations.end(), [&](const auto& each) {
        return each.player == session_.player() && each.step + 1 == steps;
    });
    const bool taken = steps > 0 && last != expectations.end() && !refused_;
    if (!taken) return problem;
    using Outcome = walk::Expectation::Outcome;
    if (last->outcome == Outcome::kept) {
        const std::string condition = tables::kept_text(session_.plan(), *last);
        const auto read = open_.read_step("expect: " + in_quotes(condition), session_.player_now());
        if (read.step) session_.replace_last(*read.step);
        return told("kept: expect " + condition);
    }
    const auto& step = std::get<plan::ExpectStep>(session_.player_now().steps.back().what);
    const std::string values = plan::values_text(
        session_.plan(), session_.plan().conditions[step.condition], last->values);
    return told(fmt::format("{}{}{}",
                            last->outcome == Outcome::held ? "it holds" : "it does not hold",
                            values.empty() ? "" : ": ", values));
}

std::string PlayLines::with(std::string_view rest) {
    const auto& players = session_.route().players;
    std::vector<std::string> names;
    for (std::uint32_t i = 0; i < players.size(); ++i) {
        names.push_back(players[i].name);
        if (players[i].name != rest) continue;
        session_.take_turn(i);
        return state();
    }
    if (rest.empty()) return fmt::format("with whom? {}\n", plan::joined(names));
    return no_such("player here", rest, names);
}

std::string PlayLines::undo(std::string_view rest) {
    const auto count = rest.empty() ? std::optional<std::size_t>(1) : whole_number(rest);
    if (!count || *count == 0) return "undo how many? `undo`, or `undo 3`\n";
    if (session_.steps() == 0) return "nothing was played that could be taken back\n";
    if (*count > session_.steps())
        return fmt::format("only {} can be taken back\n",
                           tables::counted(session_.steps(), "step"));
    session_.undo(*count);
    return state();
}

std::string PlayLines::why(std::string_view rest) {
    const plan::Plan& plan = session_.plan();
    if (rest.empty()) return "why what? A level\n";
    const plan::LevelId level = find_in(plan.levels, rest);
    return level ? why_text(session_, level) : no_such("level", rest, names_of(plan.levels));
}

std::string PlayLines::device(std::string_view rest) {
    const plan::Plan& plan = session_.plan();
    const std::vector<std::string> names = names_of(plan.devices);
    if (rest.empty()) return fmt::format("which device? {}\n", plan::joined(names));
    const plan::DeviceId device = find_in(plan.devices, rest);
    if (!device) return no_such("device", rest, names);
    const plan::DeviceId before = session_.device();
    session_.play_on(device);
    if (session_.record().routes_done) return state();
    const std::string why = tables::stuck_text(plan, session_.record());
    session_.play_on(before);
    return told(fmt::format("on {} this can't be played: {}", rest, why));
}

std::string PlayLines::help(std::string_view) {
    return std::string(help_text);
}

std::string PlayLines::quit(std::string_view) {
    over_ = true;
    return {};
}

/// What was played, under a name: for people to paste, or into a file of the plan.
std::string PlayLines::save(std::string_view rest) {
    const std::string name(take_word(rest));
    const plan::Plan& plan = session_.plan();
    if (name.empty()) return "save as what? `save NAME`, or `save NAME FILE`\n";
    if (!source::is_name(name))
        return fmt::format("\"{}\" can't be a route's name: letters, digits, - and _\n", name);
    plan::Route route = session_.route();
    route.name = name;
    source::BlockYaml yaml;
    if (rest.empty()) yaml.begin("routes");
    tables::add_route(yaml, plan, route);
    if (rest.empty()) {
        session_.call_route(name);
        return yaml.text();
    }
    for (const plan::RouteId id : plan.routes.ids()) {
        if (id != session_.route_id() && plan.routes[id].name == name)
            return fmt::format("there is a route {} already, at {}\n", name,
                               plan::place_text(plan, plan.routes[id].place));
    }
    const std::string file(rest);
    if (std::find(plan.files.begin(), plan.files.end(), file) == plan.files.end()) {
        return fmt::format("{} is no file of this plan{}\n", file,
                           source::hint(file, std::vector<std::string_view>(plan.files.begin(),
                                                                            plan.files.end())));
    }
    try {
        const std::string changed = edit::with_route(disk_.disk().read(file), name, yaml.text());
        disk_.disk().change({{file, changed}});
    } catch (const edit::ApplyError& error) {
        return fmt::format("{}: {}\n", file, error.what());
    } catch (const source::FileError& error) {
        return fmt::format("{}\n", error.what());
    }
    session_.call_route(name);
    return fmt::format("{} is in {} now\n", name, file);
}

std::string PlayLines::played(const std::string& yaml, std::string_view typed, std::size_t before) {
    refused_ = true;
    const auto read = open_.read_step(yaml, session_.player_now());
    if (!read.step) {
        const plan::Finding& problem = read.problems.front();
        std::string text = told(problem.message + could_be(yaml));
        const std::size_t column = problem.place.column - 1;
        if (before > 0 && problem.place.line == 1 && column >= before &&
            column <= before + cells(typed)) {
            text = fmt::format("  {}\n  {}^\n{}", typed, std::string(column - before, ' '), text);
        }
        return text;
    }
    if (!session_.add(*read.step)) return told(refusal_text(session_) + could_be(yaml));
    refused_ = false;
    return state();
}

/// What could stand there instead: of what is offered, what begins alike.
std::string PlayLines::could_be(std::string_view yaml) const {
    constexpr std::size_t most = 8;
    const std::string_view key = yaml.substr(yaml.starts_with('{') ? 1 : 0);
    std::vector<std::string> lines;
    for (const play::Possible& each : play::possible(session_)) {
        const std::string line = line_of(session_, each);
        if (key.starts_with(line.substr(0, line.find(' ')))) lines.push_back(line);
    }
    if (lines.empty()) return "; `help` tells what can be typed";
    if (lines.size() > most) lines.resize(most);
    return "; here one can: " + plan::joined(lines);
}

// --- completion --------------------------------------------------------------

std::vector<std::string> PlayLines::completions(std::string_view line) const {
    const std::size_t from = line.find_last_of(" \t(") + 1; // npos + 1 is 0
    const std::string_view begun = line.substr(from);
    std::string_view before = trimmed(line.substr(0, from));
    const plan::Plan& plan = session_.plan();
    std::vector<std::string> all;
    const auto add = [&](const std::vector<std::string>& more) {
        all.insert(all.end(), more.begin(), more.end());
    };
    const bool first = before.empty();
    const std::string_view verb = take_word(before);
    if (first) {
        for (const Verb& each : verbs()) all.emplace_back(each.word);
    } else if (verb == "go" && before.empty()) {
        add(names_of(plan.waypoints));
    } else if (verb == "go") {
        if (const plan::PlayerKindId kind = session_.player_now().kind) {
            for (const plan::Speed& speed : plan.players[kind].speeds) all.push_back(speed.name);
        }
    } else if (verb == "press") {
        for (const plan::ItemId item : plan.items.ids()) all.push_back(plan::item_name(plan, item));
    } else if (verb == "why") {
        add(names_of(plan.levels));
    } else if (verb == "device") {
        add(names_of(plan.devices));
    } else if (verb == "after") {
        add(names_of(plan.menus));
    } else if (verb == "with") {
        for (const plan::RoutePlayer& player : session_.route().players) all.push_back(player.name);
    } else if (verb == "launch") {
        all.emplace_back("again");
    } else if (verb == "pick") {
        for (const plan::StepList& list : plan.lists) {
            for (const plan::Step& step : list.steps) {
                if (const auto* choose = std::get_if<plan::ChooseStep>(&step.what)) {
                    for (const plan::Branch& branch : choose->branches)
                        all.push_back(plan.words[branch.name]);
                }
            }
        }
    } else if (verb == "save") {
        if (!before.empty()) all = plan.files;
    } else if (verb == "until" || verb == "expect" || verb == "set") {
        add(names_of(plan.facts));
        if (verb != "set") {
            add(names_of(plan.levels));
            add(names_of(plan.waypoints));
            add(names_of(plan.triggers));
            add(names_of(plan.menus));
            add({"and", "at(", "delivered(", "frozen", "inside(", "memory", "not", "open(", "or",
                 "queued(", "ready(", "shown(", "veiled"});
        }
        if (verb == "expect") all.emplace_back("now");
    }
    std::erase_if(all, [&](const std::string& each) { return !each.starts_with(begun); });
    std::sort(all.begin(), all.end());
    all.erase(std::unique(all.begin(), all.end()), all.end());
    return all;
}

} // namespace hestrel::command
