#include "command/play_text.hpp"

#include "command/terminal.hpp"
#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "plan/owner.hpp"
#include "plan/questions.hpp"
#include "plan/texts.hpp"
#include "source/utf8.hpp"
#include "study/list_reading.hpp"
#include "tables/words.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace hestrel::command {

using loading::LevelCondition;
using plan::LevelId;
using plan::Micros;
using walk::EventKind;

namespace {

constexpr std::size_t most_lines = 24;
constexpr std::size_t label_width = 10;
constexpr std::size_t most_happened = 5; ///< lines of what happened
constexpr std::size_t most_possible = 14;
constexpr std::size_t most_players = 3;

std::string_view condition_name(LevelCondition condition) {
    static constexpr std::array<std::string_view, 9> names{"absent",    "queued", "reading",
                                                           "unpacking", "making", "ready",
                                                           "attaching", "shown",  "leaving"};
    return names.at(static_cast<std::size_t>(condition));
}

/// Bytes of a colour that begins at `at`; 0: none does.
std::size_t colour_at(std::string_view text, std::size_t at) {
    if (!text.substr(at).starts_with("\x1b[")) return 0;
    return text.find('m', at) + 1 - at;
}

/// How many cells a text takes that may be painted.
std::size_t painted_cells(std::string_view text) {
    std::size_t count = 0;
    for (std::size_t at = 0; at < text.size();) {
        if (const std::size_t colour = colour_at(text, at)) {
            at += colour;
        } else {
            at += source::sign_length(text, at);
            ++count;
        }
    }
    return count;
}

/// No longer than so many cells; what is cut off shows.
std::string cut(const std::string& text, std::size_t most) {
    if (painted_cells(text) <= most) return text;
    std::string kept;
    std::size_t count = 0;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t colour = colour_at(text, at);
        const std::size_t length = colour > 0 ? colour : source::sign_length(text, at);
        if (colour > 0 || count + 1 < most) kept += text.substr(at, length);
        if (colour == 0) ++count;
        at += length;
    }
    return kept + "…";
}

/// Lines with a word in front of what belongs together.
class Lines {
public:
    void add(std::string_view label, const std::string& text, std::size_t most = 1) {
        std::vector<std::string> lines =
            tables::broken(text, text_columns - label_width, painted_cells);
        if (lines.size() > most) {
            lines.resize(most);
            lines.back() += " …";
        }
        for (std::size_t i = 0; i < lines.size(); ++i) {
            lines_.push_back(fmt::format("{:<{}}{}", i == 0 ? label : "", label_width,
                                         cut(lines[i], text_columns - label_width)));
        }
    }
    void plain(std::string line) { lines_.push_back(std::move(line)); }
    [[nodiscard]] std::size_t size() const { return lines_.size(); }
    [[nodiscard]] std::string text() const {
        std::string all;
        for (const std::string& line : lines_) {
            std::string shown = line;
            while (shown.ends_with(' ')) shown.pop_back();
            all += shown + "\n";
        }
        return all;
    }

private:
    std::vector<std::string> lines_;
};

/// One answer.
class Answer {
public:
    Answer(const play::Session& session, bool colour)
        : session_(session), plan_(session.plan()), record_(session.record()),
          now_(session.standing()), colour_(colour) {}

    std::string text() {
        head();
        players();
        sees();
        memory();
        frame();
        levels();
        menus();
        running();
        problems();
        happened();
        possible();
        return lines_.text();
    }

private:
    [[nodiscard]] std::string painted(std::string_view text, std::string_view code) const {
        return colour_ ? fmt::format("\x1b[{}m{}\x1b[0m", code, text) : std::string(text);
    }

    void head() {
        const plan::Device& device = plan_.devices[session_.device()];
        std::string text = fmt::format("-- {} on {}", tables::short_time(now_.at), device.name);
        const plan::RoutePlayer& player = session_.player_now();
        if (session_.route().players.size() > 1) text += fmt::format(", {}'s turn", player.name);
        if (now_.ended) text += ", the session has ended";
        text = cut(text, text_columns - 4) + " ";
        const std::size_t used = cells(text);
        lines_.plain(painted(text + std::string(text_columns - used, '-'), "1"));
    }

    void players() {
        for (std::size_t i = 0; i < now_.players.size(); ++i) {
            if (i == most_players && now_.players.size() > most_players + 1) {
                lines_.add("", fmt::format("{} players more", now_.players.size() - i));
                return;
            }
            const walk::Standing::Player& player = now_.players[i];
            const std::string& name = session_.route().players[i].name;
            lines_.add(cut(name, label_width - 1), place_of(player));
        }
    }
    [[nodiscard]] std::string place_of(const walk::Standing::Player& player) const {
        std::string text = "nowhere, as in a menu";
        if (player.at) text = "at " + plan_.waypoints[player.at].name;
        if (player.goal && !player.at) text = "on its way to " + plan_.waypoints[player.goal].name;
        if (player.at_gate)
            text +=
                fmt::format(", before gate {}", plan_.gates[plan_.paths[player.path].gate].name);
        if (player.frozen) text += ", frozen";
        return text;
    }

    [[nodiscard]] std::string names_of_places(const std::vector<LevelId>& levels) const {
        std::vector<std::string> names;
        for (const LevelId level : levels) names.push_back(plan::place_name(plan_, level));
        return plan::joined(names);
    }

    /// The screen of the player whose turn it is.
    void sees() {
        const walk::Standing::Player& player = now_.players[session_.player()];
        std::vector<LevelId> shown;
        for (const LevelId level : plan_.levels.ids()) {
            if (now_.levels[level] != LevelCondition::shown) continue;
            const bool there =
                !player.at || plan_.levels[level].world == plan_.waypoints[player.at].world;
            if (there) shown.push_back(level);
        }
        if (!player.veils.empty()) {
            lines_.add("sees", "the veil " +
                                   plan::joined(plan::names_in(plan_.veils, player.veils)) +
                                   ", and nothing behind it");
        } else if (!player.missing.empty()) {
            lines_.add("sees",
                       painted("a gap: ", "31") + names_of_places(player.missing) +
                           (player.missing.size() == 1 ? " is" : " are") + " not shown",
                       2);
        } else if (shown.empty()) {
            lines_.add("sees", painted("black: nothing is shown", "31"));
        } else {
            lines_.add("sees", plan::joined(plan::told_names(plan_, shown)), 2);
        }
    }

    void memory() {
        const plan::MemoryBudget& budget = plan_.devices[session_.device()].memory;
        const plan::Bytes used = now_.memory.total;
        constexpr std::size_t bar_width = 30;
        const double share =
            static_cast<double>(used.count) / static_cast<double>(budget.total.count);
        const auto filled = static_cast<std::size_t>(
            std::lround(std::clamp(share, 0.0, 1.0) * static_cast<double>(bar_width)));
        const bool over = used > budget.total;
        const std::string bar =
            std::string(filled, over ? '!' : '#') + std::string(bar_width - filled, '.');
        constexpr double tight = 0.9;
        std::string text =
            fmt::format("[{}] {} of {} MiB",
                        painted(bar, over            ? "31"
                                     : share > tight ? "33"
                                                     : "32"),
                        tables::short_mebibytes(used), tables::short_mebibytes(budget.total));
        for (const auto& [pool, most] : budget.pools) {
            const plan::Bytes in_pool = now_.memory.pools[pool.value];
            text += fmt::format("; {} {}/{}{}", plan_.pools[pool], tables::short_mebibytes(in_pool),
                                tables::short_mebibytes(most), in_pool > most ? ", over!" : "");
        }
        lines_.add("memory", text, 2);
    }

    /// What every frame takes for what is shown; only where anything costs time.
    void frame() {
        if (!plan::has_frame_costs(plan_)) return;
        const loading::Catalogue catalogue = loading::catalogue_for(plan_, session_.device());
        std::vector<LevelId> shown;
        for (const LevelId level : plan_.levels.ids()) {
            if (now_.levels[level] == LevelCondition::shown) shown.push_back(level);
        }
        const Micros work = catalogue.frame.base + catalogue.frame_cost(shown);
        const Micros most = plan::longest_frame(plan_, plan_.devices[session_.device()]);
        std::string text =
            fmt::format("{} of work, of {}", plan::frame_time(work), plan::frame_time(most));
        if (work > most)
            text += painted("; too long: it lasts " +
                                plan::frame_time(next_multiple(work, catalogue.frame.period)),
                            "31");
        lines_.add("frame", text, 1);
    }

    /// What is there and not seen, what comes, what goes.
    void levels() {
        std::vector<std::string> coming;
        std::vector<LevelId> hidden, leaving;
        for (const LevelId level : plan_.levels.ids()) {
            const LevelCondition condition = now_.levels[level];
            const std::string& name = plan_.levels[level].name;
            if (condition == LevelCondition::leaving) leaving.push_back(level);
            if (condition == LevelCondition::absent || condition == LevelCondition::leaving ||
                condition == LevelCondition::shown)
                continue;
            const auto shown = play::shown_at(session_, level);
            const auto ready = play::ready_at(session_, level);
            if (condition == LevelCondition::ready && !shown) {
                hidden.push_back(level);
                continue;
            }
            std::string when = "never there";
            if (ready) when = "ready in " + tables::short_time(*ready - now_.at);
            if (shown) when = "shown in " + tables::short_time(*shown - now_.at);
            coming.push_back(fmt::format("{} ({}, {})", name, condition_name(condition), when));
        }
        if (!coming.empty()) lines_.add("coming", plan::joined(coming), 3);
        if (!hidden.empty()) lines_.add("hidden", plan::joined(plan::told_names(plan_, hidden)), 2);
        if (!leaving.empty())
            lines_.add("leaving", plan::joined(plan::told_names(plan_, leaving)), 1);
    }

    void menus() {
        if (!now_.menus.empty())
            lines_.add("menus", plan::joined(plan::names_in(plan_.menus, now_.menus)));
    }

    void running() {
        std::vector<std::string> texts;
        for (const walk::Standing::Running& each : now_.running) {
            const std::string who = each.list     ? plan::list_name(plan_, each.list)
                                    : now_.booted ? "a switch"
                                                  : "the boot";
            std::string waits = " goes on";
            if (!each.missing.empty()) {
                waits =
                    fmt::format(" waits for {} to be {}", plan::level_names(plan_, each.missing),
                                each.awaited == plan::Awaited::shown ? "shown" : "ready");
            } else if (each.until) {
                waits = fmt::format(" waits until {}", plan_.conditions[each.until].text);
            } else if (each.list) {
                waits = " waits";
            }
            texts.push_back(who + waits);
        }
        if (!texts.empty()) lines_.add("running", plan::joined(texts, "; "), 2);
    }

    [[nodiscard]] Micros fresh_from() const {
        const std::size_t first = session_.fresh_events();
        return first < now_.events ? record_.events[first].at : now_.at;
    }

    void problems() {
        std::vector<std::string> texts;
        for (const plan::Finding& finding : record_.findings) {
            const bool fresh = *finding.from >= fresh_from() && *finding.from <= now_.at;
            if (!fresh || finding.severity == plan::Severity::note) continue;
            texts.push_back(finding.message.substr(0, finding.message.rfind(" (")));
        }
        constexpr std::size_t most = 3;
        for (std::size_t i = 0; i < std::min(texts.size(), most); ++i)
            lines_.add(i == 0 ? "problem" : "",
                       painted(cut(texts[i], text_columns - label_width), "31"));
        if (texts.size() > most)
            lines_.add("", fmt::format("{} problems more", texts.size() - most));
    }

    /// Whether somebody who plays wants to know.
    static bool is_told(EventKind kind) {
        switch (kind) {
        case EventKind::list_ended:
        case EventKind::entered:
        case EventKind::left:
        case EventKind::parcel_arrived:
        case EventKind::piece_queued:
        case EventKind::piece_reading:
        case EventKind::piece_unpacking:
        case EventKind::piece_making:
        case EventKind::piece_resident:
        case EventKind::piece_given_up:
        case EventKind::piece_released:
        case EventKind::level_attaching: return false;
        default: return true;
        }
    }

    void happened() {
        std::vector<std::string> texts;
        std::vector<Micros> times;
        for (std::size_t i = session_.fresh_events(); i < now_.events; ++i) {
            const walk::Event& event = record_.events[i];
            if (!is_told(event.kind)) continue;
            const tables::EventWords words = tables::event_words(plan_, record_, event);
            std::string text(words.event);
            for (const std::string& part : {words.subject, words.detail}) {
                if (!part.empty() && !part.starts_with("transition ")) text += " " + part;
            }
            const bool of_each = event.player && (event.kind == EventKind::fact_set ||
                                                  event.kind == EventKind::fact_reset);
            if (of_each) text += " of " + words.player;
            const bool same = !texts.empty() && times.back() == event.at;
            constexpr std::size_t time_width = 9;
            if (same &&
                cells(texts.back()) + cells(text) + 2 < text_columns - label_width - time_width) {
                texts.back() += ", " + text;
            } else {
                if (same) texts.back() += ",";
                texts.push_back(text);
                times.push_back(event.at);
            }
        }
        constexpr std::size_t kept_for_possible = 3; // lines
        const std::size_t used = lines_.size() + kept_for_possible;
        const std::size_t most =
            std::min(most_happened, used < most_lines ? most_lines - used : std::size_t{0});
        const std::size_t left = texts.size() > most ? texts.size() - most : 0;
        for (std::size_t i = left; i < texts.size(); ++i) {
            const bool goes_on = i > left && times[i] == times[i - 1];
            lines_.plain(cut(fmt::format("{:<{}}{:<9}{}", i > left ? "" : "just now", label_width,
                                         goes_on ? "" : tables::short_time(times[i]), texts[i]),
                             text_columns));
        }
    }

    void possible() {
        const std::vector<play::Possible> all = play::possible(session_);
        std::vector<std::string> texts;
        for (std::size_t i = 0; i < all.size(); ++i)
            texts.push_back(
                fmt::format("{} {}{}", i + 1, line_of(session_, all[i]), about(all[i])));
        const std::size_t room = 2 * (most_lines - std::min(lines_.size() + 1, most_lines - 1));
        const std::size_t most = std::min(most_possible, room);
        const std::size_t told = texts.size() <= most ? texts.size() : most - 1;
        if (told < texts.size()) texts[told] = fmt::format("… and {} more", texts.size() - told);
        const std::size_t count = std::min(texts.size(), told + 1);
        constexpr std::size_t column = (text_columns - label_width) / 2;
        // What fits half a line stands two to a line.
        const bool two =
            std::all_of(texts.begin(), texts.begin() + static_cast<std::ptrdiff_t>(count),
                        [](const std::string& text) { return cells(text) < column; });
        std::string line;
        for (std::size_t i = 0; i < count; ++i) {
            const std::string text = cut(texts[i], two ? column - 1 : text_columns - label_width);
            const bool left = !two || i % 2 == 0;
            line = left ? text : line + std::string(column - cells(line), ' ') + text;
            if (two && left && i + 1 < count) continue;
            lines_.plain(fmt::format("{:<{}}{}", i < 2 ? "you can" : "", label_width, line));
            line.clear();
            if (lines_.size() + 1 == most_lines) break;
        }
        if (count == 0)
            lines_.add("you can", "do nothing but `undo`, change the `device`, or `quit`");
    }
    [[nodiscard]] std::string about(const play::Possible& each) const {
        if (each.gate) return fmt::format(" (gate {} is closed)", plan_.gates[each.gate].name);
        if (std::holds_alternative<plan::GoStep>(each.step.what))
            return fmt::format(" ({:.0f} m, {})", each.metres, tables::short_time(each.time));
        if (each.instead) return fmt::format(" (instead of {})", plan_.words[each.instead]);
        if (each.shown) return fmt::format(" (in {})", tables::short_time(each.time));
        if (each.settles) return " (until all has settled)";
        return {};
    }

    const play::Session& session_;
    const plan::Plan& plan_;
    const walk::Record& record_;
    const walk::Standing& now_;
    bool colour_;
    Lines lines_;
};

} // namespace

std::string play_answer(const play::Session& session, bool colour) {
    return Answer(session, colour).text();
}

std::string line_of(const play::Session& session, const play::Possible& possible) {
    const plan::Plan& plan = session.plan();
    if (possible.shown) return fmt::format("until shown({})", plan.levels[possible.shown].name);
    if (const auto* pause = std::get_if<plan::PauseStep>(&possible.step.what)) {
        // Rounded up: a little later all has settled still.
        return fmt::format("pause {:.2f}", std::ceil(plan::in_seconds(pause->time) * 100) / 100);
    }
    return tables::route_step_text(plan, possible.step);
}

std::string refusal_text(const play::Session& session) {
    const walk::Record& refused = session.refused();
    if (refused.session_ended) return "the session has ended: launch again, or undo";
    if (!refused.stuck) return "that can't be done here";
    return "that can't be done: " +
           tables::hindrance_text(session.plan(), refused, session.refused_step());
}

std::string why_text(const play::Session& session, LevelId level) {
    const plan::Plan& plan = session.plan();
    const walk::Record& record = session.record();
    const walk::Standing& now = session.standing();
    const LevelCondition condition = now.levels[level];
    const std::string& name = plan.levels[level].name;
    std::string text = fmt::format("{} is {}", name, condition_name(condition));
    if (const auto shown = play::shown_at(session, level);
        shown && condition != LevelCondition::shown)
        text += fmt::format(", and shown in {}", tables::short_time(*shown - now.at));
    text += "\n";
    std::string asked;
    for (const walk::Transition& transition : record.transitions) {
        for (const walk::Transition::Called& call : transition.called) {
            if (call.level != level || call.at > now.at) continue;
            const plan::Place place = transition.list ? plan::owner_of(plan, transition.list).place
                                                      : plan.levels[level].place;
            asked +=
                fmt::format("  {} at {} by {} ({})\n", call.to_show ? "wanted shown" : "asked for",
                            tables::short_time(call.at), tables::cause_text(plan, transition),
                            plan::place_text(plan, place));
        }
    }
    text += asked.empty() ? "  no list and no near rule has asked for it\n" : asked;
    if (condition == LevelCondition::absent) {
        std::string would;
        for (const plan::ListId list : plan.lists.ids()) {
            for (const plan::Step& step : plan.lists[list].steps) {
                if (plan::contains(study::read_step(step).asks, level))
                    would += fmt::format("  {} would ({})\n",
                                         plan::list_name(plan, plan::top_list(plan, list)),
                                         plan::place_text(plan, step.place));
            }
        }
        text += would;
    }
    const loading::Catalogue catalogue = loading::catalogue_for(plan, session.device());
    for (const loading::LoadRecord& load : record.loads) {
        if (load.piece.value != level.value || load.asked > now.at) continue;
        const auto at = [&](const std::optional<Micros>& time) {
            return time && *time <= now.at ? tables::short_time(*time) : std::string("not yet");
        };
        const loading::Piece& piece = catalogue.pieces[load.piece];
        text += fmt::format("  queued {}, priority {}", tables::short_time(load.asked),
                            plan::priority_name(load.priority));
        const auto stage = [&](bool is_one, std::string_view done, const auto& from,
                               const auto& to) {
            if (is_one) text += fmt::format("; {} from {} to {}", done, at(from), at(to));
        };
        stage(piece.read, "read", load.read_start, load.read_end);
        stage(piece.read && catalogue.unpack, "unpacked", load.unpack_start, load.unpack_end);
        stage(piece.make.has_value(), "made", load.make_start, load.make_end);
        text += "\n";
    }
    return text;
}

} // namespace hestrel::command
