#include "verify/play.hpp"

#include "plan/names.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <charconv>
#include <cstdlib>
#include <unordered_map>
#include <variant>

namespace hestrel::verify {

using plan::LevelId;
using plan::Micros;
using walk::Cue;
using walk::EventKind;

namespace {

/// The things of a plan by name.
class Names {
public:
    explicit Names(const plan::Plan& plan) {
        add(levels_, plan.levels);
        add(pieces_, plan.levels);
        for (const plan::KitId kit : plan.kits.ids())
            pieces_.emplace(plan.kits[kit].name,
                            static_cast<std::uint32_t>(plan.levels.size() + kit.value));
        add(triggers_, plan.triggers);
        add(menus_, plan.menus);
        add(facts_, plan.facts);
        add(veils_, plan.veils);
        add(waypoints_, plan.waypoints);
        for (const plan::ItemId item : plan.items.ids())
            items_.emplace(plan::item_name(plan, item), item.value);
        for (std::uint32_t word = 0; word < plan.words.size(); ++word)
            words_.emplace(plan.words[plan::WordId{word}], word);
    }

    using Map = std::unordered_map<std::string, std::uint32_t>;
    struct Kind {
        const Map* names = nullptr; ///< null: what it is about does not matter
        std::string_view what;
    };
    [[nodiscard]] Kind of(EventKind kind) const {
        switch (kind) {
        case EventKind::fired:
        case EventKind::entered:
        case EventKind::left: return {&triggers_, "trigger"};
        case EventKind::pressed: return {&items_, "item"};
        case EventKind::after_came: return {&menus_, "menu"};
        case EventKind::came_near:
        case EventKind::went_far:
        case EventKind::level_ready:
        case EventKind::level_attaching:
        case EventKind::level_shown:
        case EventKind::level_hidden:
        case EventKind::level_unloaded: return {&levels_, "level"};
        case EventKind::piece_queued:
        case EventKind::piece_reading:
        case EventKind::piece_unpacking:
        case EventKind::piece_making:
        case EventKind::piece_resident:
        case EventKind::piece_given_up:
        case EventKind::piece_released: return {&pieces_, "level or kit"};
        case EventKind::fact_set: return {&facts_, "fact"};
        default: return {};
        }
    }
    /// Waypoints; null where there is none of that name.
    [[nodiscard]] const std::uint32_t* waypoint(const std::string& name) const {
        const auto found = waypoints_.find(name);
        return found == waypoints_.end() ? nullptr : &found->second;
    }
    /// Of what is not compared, and only tells what was before what in an instant; null: of none.
    [[nodiscard]] const Map* of_moment(EventKind kind) const {
        switch (kind) {
        case EventKind::switch_began:
        case EventKind::switch_ended: return &levels_;
        case EventKind::veil_up:
        case EventKind::veil_down: return &veils_;
        case EventKind::menu_opened:
        case EventKind::menu_closed: return &menus_;
        case EventKind::fact_reset: return &facts_;
        default: return nullptr;
        }
    }
    [[nodiscard]] const Map& words() const { return words_; }

private:
    template <class Things>
    static void add(Map& map, const Things& things) {
        for (const auto id : things.ids()) map.emplace(things[id].name, id.value);
    }

    Map levels_, pieces_, triggers_, menus_, facts_, items_, veils_, waypoints_, words_;
};

std::optional<Cue::What> cue_of(EventKind kind) {
    switch (kind) {
    case EventKind::fired: return Cue::What::fired;
    case EventKind::pressed: return Cue::What::pressed;
    case EventKind::after_came: return Cue::What::after;
    case EventKind::came_near: return Cue::What::came_near;
    case EventKind::went_far: return Cue::What::went_far;
    default: return std::nullopt;
    }
}

/// A player gets into a trigger, or out of it.
std::optional<Cue::What> crossing_of(EventKind kind) {
    switch (kind) {
    case EventKind::entered: return Cue::What::entered;
    case EventKind::left: return Cue::What::left;
    default: return std::nullopt;
    }
}

/// By fact: whether any list sets or resets it, or a level that goes does.
std::vector<bool> facts_set_by_lists(const plan::Plan& plan) {
    std::vector<bool> set(plan.facts.size());
    for (const plan::FactId fact : plan.facts.ids())
        set[fact.value] = plan.facts[fact].lifetime == plan::Lifetime::level;
    for (const plan::StepList& list : plan.lists) {
        for (const plan::Step& step : list.steps) {
            if (const auto* assigns = std::get_if<plan::SetStep>(&step.what)) {
                for (const plan::Assignment& each : assigns->facts) set[each.fact.value] = true;
            }
        }
    }
    return set;
}

class Reader {
public:
    Reader(const plan::Plan& plan, plan::RouteId route, const Log& log)
        : plan_(plan), log_(log), names_(plan), set_by_lists_(facts_set_by_lists(plan)) {
        for (const plan::RoutePlayer& player : plan.routes[route].players)
            play_.players.push_back(player.name);
    }

    Play read() {
        play_.kinds = {EventKind::level_shown, EventKind::level_unloaded}; // always needed
        for (const LogEvent& event : log_.events) {
            if (event.figure == LogEvent::Figure::none) play_.kinds.insert(event.kind);
            const bool arrived = event.figure == LogEvent::Figure::none &&
                                 event.kind == EventKind::arrived && event.player.empty();
            const std::string& who = arrived ? event.subject : event.player;
            const bool known = who.empty() || std::find(play_.players.begin(), play_.players.end(),
                                                        who) != play_.players.end();
            if (!known) play_.players.push_back(who);
        }
        std::size_t first = 0;
        while (first < log_.events.size()) {
            std::size_t end = first + 1;
            while (end < log_.events.size() && !launches(end)) ++end;
            read_session(first, end);
            first = end;
        }
        return std::move(play_);
    }

private:
    [[nodiscard]] bool launches(std::size_t line) const {
        const LogEvent& event = log_.events[line];
        return event.figure == LogEvent::Figure::none && event.kind == EventKind::launched;
    }

    /// Lines of one session, by time: a game may write them a little out of order.
    [[nodiscard]] std::vector<std::size_t> lines(std::size_t first, std::size_t end) const {
        std::vector<std::size_t> all;
        for (std::size_t line = first; line < end; ++line) all.push_back(line);
        std::stable_sort(all.begin(), all.end(), [&](std::size_t one, std::size_t other) {
            return log_.events[one].at < log_.events[other].at;
        });
        return all;
    }

    /// When the boot ended. Where the log does not say so: when the last of what it tells of levels
    /// before anything began a list was shown; else at its first event.
    void find_boot(Session& session, const std::vector<std::size_t>& lines) const {
        std::optional<Micros> first_load;
        std::optional<Micros> last_shown;
        std::optional<Micros> ended;
        bool began = false;
        for (const std::size_t line : lines) {
            const LogEvent& event = log_.events[line];
            if (event.figure != LogEvent::Figure::none) continue;
            if (event.kind == EventKind::launched) session.boot_start = event.at;
            if (event.kind == EventKind::boot_ended) ended = event.at;
            if (ended) break;
            began = began || cue_of(event.kind);
            if (began) continue;
            if (!first_load && event.kind == EventKind::piece_queued) first_load = event.at;
            if (event.kind == EventKind::level_shown) last_shown = event.at;
        }
        if (!session.boot_start) session.boot_start = first_load;
        session.boot_end = ended        ? *ended
                           : last_shown ? *last_shown
                                        : log_.events[lines.front()].at;
    }

    void read_session(std::size_t first, std::size_t end) {
        const std::vector<std::size_t> in_order = lines(first, end);
        Session session;
        find_boot(session, in_order);
        session.end = log_.events[in_order.back()].at - session.boot_end;
        session.script.end = std::max(session.end, Micros{});
        std::optional<Micros> told_end;
        if (session.boot_start) session.script.boot = session.boot_end - *session.boot_start;
        session.launched = end < log_.events.size();
        session.whole = session.launched;
        std::vector<std::pair<EventKind, std::uint32_t>> behind;
        std::optional<Micros> instant;
        for (const std::size_t line : in_order) {
            const LogEvent& event = log_.events[line];
            const Micros at = event.at - session.boot_end;
            if (event.figure == LogEvent::Figure::memory) {
                // What is last said of a moment is what was in use when all of it had happened.
                if (!session.memory.empty() && session.memory.back().first == at)
                    session.memory.pop_back();
                session.memory.emplace_back(at, event.memory);
            }
            if (event.figure != LogEvent::Figure::none) continue;
            const bool ends =
                event.kind == EventKind::ended || event.kind == EventKind::session_ended;
            session.whole = session.whole || ends;
            if (ends) told_end = at;
            // What goes because the game is switched off is let go by no list.
            if (goes(event.kind) && session.launched && event.at == log_.events[end].at) continue;
            if (instant != at) behind.clear();
            instant = at;
            read_event(session, event, line, behind);
        }
        // A line that is written later says nothing of what comes after the end.
        if (told_end) session.end = *told_end;
        play_.sessions.push_back(std::move(session));
    }

    static void tell(Session& session, Cue cue, std::size_t line) {
        session.script.cues.push_back(std::move(cue));
        session.cue_lines.push_back(line);
    }

    void read_event(Session& session, const LogEvent& event, std::size_t line,
                    std::vector<std::pair<EventKind, std::uint32_t>>& behind) {
        const Micros at = event.at - session.boot_end;
        if (event.kind == EventKind::chosen) {
            read_choice(session, event, line);
            return;
        }
        if (event.kind == EventKind::arrived) {
            read_arrival(session, event, line);
            return;
        }
        constexpr std::size_t most_behind = 256;
        if (const Names::Map* names = names_.of_moment(event.kind)) {
            const auto found = names->find(event.subject);
            if (found != names->end() && behind.size() < most_behind)
                behind.emplace_back(event.kind, found->second);
            return;
        }
        const Names::Kind kind = names_.of(event.kind);
        if (kind.names == nullptr) return;
        const auto found = kind.names->find(event.subject);
        if (found == kind.names->end()) {
            play_.unknown.push_back({line, kind.what});
            return;
        }
        if (const auto what = crossing_of(event.kind)) {
            const flow::PlayerId player = player_of(event.player);
            if (!player) return; // of nobody in particular: it tells nothing
            tell(session, {at, *what, found->second, player, {}, behind}, line);
            return;
        }
        if (const auto what = cue_of(event.kind)) {
            tell(session, {at, *what, found->second, player_of(event.player), {}, behind}, line);
            return;
        }
        Said said{at, event.kind, found->second, line};
        if (event.kind == EventKind::fact_set && !read_value(event, said)) {
            play_.unknown.push_back({line, "value of that fact"});
            return;
        }
        if (event.kind == EventKind::fact_set && !set_by_lists_[found->second]) {
            tell(session, {at, Cue::What::fact_set, said.subject, said.player, said.value, behind},
                 line);
            return;
        }
        session.said.push_back(said);
        if (behind.size() < most_behind) behind.emplace_back(event.kind, found->second);
    }

    /// What a fact was set to, as events.csv writes it.
    bool read_value(const LogEvent& event, Said& said) const {
        const plan::Fact& fact = plan_.facts[plan::FactId{said.subject}];
        said.value.kind = fact.initial.kind;
        if (fact.of_each) said.player = player_of(event.player);
        switch (fact.initial.kind) {
        case plan::ValueKind::flag:
            said.value.number = event.detail == "true" ? 1 : 0;
            return event.detail == "true" || event.detail == "false";
        case plan::ValueKind::number: {
            const char* end = event.detail.data() + event.detail.size();
            std::int64_t number = 0;
            const auto read = std::from_chars(event.detail.data(), end, number);
            said.value.number = static_cast<double>(number);
            constexpr std::int64_t largest = 1'000'000'000; // where sums end (section 12)
            return read.ec == std::errc() && read.ptr == end && std::abs(number) <= largest;
        }
        default: {
            const auto found = names_.words().find(event.detail);
            if (found == names_.words().end()) return false;
            said.value.word = plan::WordId{found->second};
            return true;
        }
        }
    }

    /// `subject` (or `player`) is who, `detail` where.
    void read_arrival(Session& session, const LogEvent& event, std::size_t line) {
        const std::string& who = event.player.empty() ? event.subject : event.player;
        const flow::PlayerId player = player_of(who);
        const std::uint32_t* at = names_.waypoint(event.detail);
        if (at == nullptr || player.value >= play_.players.size()) return;
        tell(session, {event.at - session.boot_end, Cue::What::arrived, *at, player, {}, {}}, line);
    }

    /// `detail` names the branch; where it does not, `subject` may.
    void read_choice(Session& session, const LogEvent& event, std::size_t line) {
        for (const std::string* name : {&event.detail, &event.subject}) {
            const auto found = names_.words().find(*name);
            if (found == names_.words().end()) continue;
            session.script.chosen.emplace_back(found->second);
            return;
        }
        play_.unknown.push_back({line, "branch"});
    }

    [[nodiscard]] flow::PlayerId player_of(const std::string& name) const {
        if (name.empty()) return {};
        const auto found = std::find(play_.players.begin(), play_.players.end(), name);
        return flow::PlayerId{static_cast<std::size_t>(found - play_.players.begin())};
    }

    const plan::Plan& plan_;
    const Log& log_;
    Names names_;
    std::vector<bool> set_by_lists_; ///< by fact
    Play play_;
};

} // namespace

bool leaves_near_out(const plan::Plan& plan, const Play& play) {
    return !play.kinds.contains(EventKind::came_near) &&
           std::any_of(plan.levels.begin(), plan.levels.end(),
                       [](const plan::Level& level) { return level.near.has_value(); });
}

const std::string& piece_name(const plan::Plan& plan, std::uint32_t piece) {
    if (piece < plan.levels.size()) return plan.levels[LevelId{piece}].name;
    return plan.kits[plan::KitId{piece - plan.levels.size()}].name;
}

Play play_of(const plan::Plan& plan, plan::RouteId route, const Log& log) {
    return Reader(plan, route, log).read();
}

ScriptedPlan::Routes ScriptedPlan::routes_for(const std::vector<std::string>& players) {
    const auto known = routes_.find(players);
    if (known != routes_.end()) return known->second;
    plan::Route route = plan_.routes[like_];
    const std::vector<plan::RoutePlayer> of_like = route.players;
    route.players.clear();
    route.machines = {};
    route.unhurried = false;
    for (const std::string& name : players) {
        plan::RoutePlayer player;
        player.name = name;
        for (const plan::RoutePlayer& each : of_like) {
            if (each.name == name) player.kind = each.kind;
        }
        for (const plan::PlayerKindId kind : plan_.players.ids()) {
            if (!player.kind && plan_.players[kind].name == name) player.kind = kind;
        }
        route.players.push_back(std::move(player));
    }
    plan::Route again = route;
    again.start = {};
    again.start.level = plan::launched_in(plan_, route);
    const Routes added{plan_.routes.push(std::move(route)), plan_.routes.push(std::move(again))};
    routes_.emplace(players, added);
    return added;
}

} // namespace hestrel::verify
