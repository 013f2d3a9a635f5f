#include "tables/words.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace hestrel::tables {

using plan::LevelId;
using walk::EventKind;

namespace {

/// So many of what there are `per_unit` in a unit, a power of ten: 12'500 by 1'000 is "12.500".
void add_decimal(std::string& text, std::uint64_t count, std::uint64_t per_unit) {
    text += fmt::format_int(count / per_unit).c_str();
    // A digit in front keeps the noughts behind it.
    const fmt::format_int behind_point(per_unit + count % per_unit);
    text += '.';
    text.append(behind_point.data() + 1, behind_point.size() - 1);
}

} // namespace

void add_seconds(std::string& text, plan::Micros time) {
    constexpr std::uint64_t second = 1'000'000;
    const bool negative = time.count < 0;
    const auto whole = negative ? 0 - static_cast<std::uint64_t>(time.count)
                                : static_cast<std::uint64_t>(time.count);
    if (negative) text += '-';
    add_decimal(text, whole, second);
}

std::string seconds_text(plan::Micros time) {
    std::string text;
    add_seconds(text, time);
    return text;
}

std::string seconds_text(const std::optional<plan::Micros>& time) {
    return time ? seconds_text(*time) : std::string();
}

void add_mebibytes(std::string& text, plan::Bytes size) {
    constexpr std::uint64_t exact = std::uint64_t{1} << 50; // as far as thousandths fit in 64 bits
    constexpr unsigned mebibyte = 20;                       // bits
    constexpr std::uint64_t half = std::uint64_t{1} << (mebibyte - 1);
    constexpr std::uint64_t thousand = 1000;
    const auto count = static_cast<std::uint64_t>(size.count);
    if (count > exact) { // negative, too
        fmt::format_to(std::back_inserter(text), "{:.3f}", plan::in_mebibytes(size));
        return;
    }
    // Rounded to the nearest thousandth, and to the even one of two.
    const std::uint64_t rest = count * thousand & (2 * half - 1);
    std::uint64_t thousandths = count * thousand >> mebibyte;
    if (rest > half || (rest == half && thousandths % 2 == 1)) ++thousandths;
    add_decimal(text, thousandths, thousand);
}

std::string mebibytes_text(plan::Bytes size) {
    std::string text;
    add_mebibytes(text, size);
    return text;
}

std::string times_more(std::size_t times) {
    return times > 1 ? fmt::format("; {} more", counted(times - 1, "time")) : std::string();
}

const std::string& piece_name(const plan::Plan& plan, loading::PieceId piece) {
    if (piece.value < plan.levels.size()) return plan.levels[LevelId{piece.value}].name;
    return plan.kits[plan::KitId{piece.value - plan.levels.size()}].name;
}

std::string_view piece_kind(const plan::Plan& plan, loading::PieceId piece) {
    return piece.value < plan.levels.size() ? "level" : "kit";
}

namespace {

/// Without its `when`.
std::string plain_step_text(const plan::Plan& plan, const plan::RouteStep& step) {
    if (const auto* go = std::get_if<plan::GoStep>(&step.what))
        return "go " + plan.waypoints[go->to].name;
    if (const auto* press = std::get_if<plan::PressStep>(&step.what))
        return "press " + plan::item_name(plan, press->item);
    if (const auto* pause = std::get_if<plan::PauseStep>(&step.what))
        return "pause " + short_time(pause->time);
    if (const auto* pick = std::get_if<plan::PickStep>(&step.what))
        return "pick " + plan.words[pick->branch];
    if (const auto* after = std::get_if<plan::AfterStep>(&step.what))
        return "after " + plan.menus[after->menu].name;
    if (const auto* until = std::get_if<plan::UntilStep>(&step.what))
        return "until " + plan.conditions[until->condition].text;
    if (const auto* expect = std::get_if<plan::ExpectStep>(&step.what))
        return "expect " + expectation_text(plan, *expect);
    if (const auto* set = std::get_if<plan::RouteSetStep>(&step.what))
        return "set " + assignments_text(plan, set->facts);
    return "launch again";
}

} // namespace

std::string route_step_text(const plan::Plan& plan, const plan::RouteStep& step) {
    const std::string text = plain_step_text(plan, step);
    return step.when ? text + ", when " + plan.conditions[step.when].text : text;
}

std::string expectation_text(const plan::Plan& plan, const plan::ExpectStep& expect) {
    if (!expect.condition) return "now";
    return plan.conditions[expect.condition].text +
           (expect.within ? " within " + short_time(*expect.within) : std::string());
}

std::string kept_text(const plan::Plan& plan, const walk::Expectation& kept) {
    std::vector<std::string> parts;
    if (kept.place) parts.push_back(fmt::format("at({})", plan.waypoints[kept.place].name));
    for (const LevelId level : kept.shown)
        parts.push_back(fmt::format("shown({})", plan.levels[level].name));
    for (const plan::FactId fact : plan.facts.ids()) {
        std::string value = plan::value_text(plan, fact, kept.facts[fact.value]);
        const std::string& name = plan.facts[fact].name;
        const bool flag = plan.facts[fact].initial.kind == plan::ValueKind::flag;
        parts.push_back(flag ? (value == "true" ? name : "not " + name)
                             : fmt::format("{} == {}", name, value));
    }
    return parts.empty() ? "true" : plan::joined(parts, " and ");
}

std::string assignments_text(const plan::Plan& plan, const std::vector<plan::Assignment>& facts) {
    std::vector<std::string> texts;
    for (const plan::Assignment& each : facts) {
        const auto value = static_cast<std::int64_t>(each.value.number);
        const std::string text = plan::value_text(
            plan, each.fact,
            each.value.kind == plan::ValueKind::word ? each.value.word.value : value);
        texts.push_back(plan.facts[each.fact].name + ": " + (each.adds && value >= 0 ? "+" : "") +
                        (!each.adds && value < 0 ? "{to: " + text + "}" : text));
    }
    return plan::joined(texts);
}

std::string holder_name(const plan::Plan& plan, const loading::Holding& holding) {
    switch (holding.holder) {
    case loading::Holder::base: return "base";
    case loading::Holder::piece: return piece_name(plan, loading::PieceId{holding.index});
    case loading::Holder::staging:
        return "staging of " + piece_name(plan, loading::PieceId{holding.index});
    case loading::Holder::veil: return "veil " + plan.veils[plan::VeilId{holding.index}].name;
    case loading::Holder::players: return "players";
    }
    return {};
}

const std::string& budget_name(const plan::Plan& plan, const loading::Overrun& overrun) {
    static const std::string total = "total";
    return overrun.pool ? plan.pools[overrun.pool] : total;
}

namespace {

/// What an event's subject or detail is.
enum class About : std::uint8_t {
    nothing,
    trigger,
    item,
    run,
    list,
    level,
    place, ///< a level, or the place of which it is a variant
    veil,
    player,
    waypoint,
    menu,
    piece,
    gate,
    fact,
    value, ///< of the subject, a fact
    word,
    parcel,
    step, ///< of the route of the subject, a player
    machine,
};

struct EventForm {
    EventKind kind;
    std::string_view word;
    About subject;
    About detail;
};

constexpr std::array event_forms{
    EventForm{EventKind::boot_ended, "boot-ended", About::nothing, About::nothing},
    EventForm{EventKind::fired, "fired", About::trigger, About::run},
    EventForm{EventKind::firing_lost, "firing-lost", About::trigger, About::nothing},
    EventForm{EventKind::pressed, "pressed", About::item, About::run},
    EventForm{EventKind::list_ended, "list-ended", About::list, About::run},
    EventForm{EventKind::list_abandoned, "list-abandoned", About::level, About::run},
    EventForm{EventKind::list_dropped, "list-dropped", About::list, About::run},
    EventForm{EventKind::gave_up_waiting, "gave-up-waiting", About::list, About::run},
    EventForm{EventKind::switch_began, "switch-began", About::level, About::run},
    EventForm{EventKind::switch_ended, "switch-ended", About::level, About::run},
    EventForm{EventKind::switch_refused, "switch-refused", About::level, About::run},
    EventForm{EventKind::variant_refused, "variant-refused", About::level, About::run},
    EventForm{EventKind::leave_refused, "leave-refused", About::level, About::run},
    EventForm{EventKind::leave_cant_wait, "leave-cant-wait", About::run, About::nothing},
    EventForm{EventKind::veil_up, "veil-up", About::veil, About::nothing},
    EventForm{EventKind::veil_down, "veil-down", About::veil, About::nothing},
    EventForm{EventKind::frozen, "players-frozen", About::player, About::nothing},
    EventForm{EventKind::thawed, "players-thawed", About::player, About::nothing},
    EventForm{EventKind::placed, "placed", About::player, About::waypoint},
    EventForm{EventKind::set_out, "set-out", About::player, About::waypoint},
    EventForm{EventKind::arrived, "arrived", About::player, About::waypoint},
    EventForm{EventKind::go_ended, "go-ended", About::player, About::waypoint},
    EventForm{EventKind::go_dropped, "go-dropped", About::player, About::waypoint},
    EventForm{EventKind::at_gate, "at-gate", About::player, About::gate},
    EventForm{EventKind::through_gate, "through-gate", About::player, About::gate},
    EventForm{EventKind::entered, "entered", About::trigger, About::player},
    EventForm{EventKind::left, "left", About::trigger, About::player},
    EventForm{EventKind::came_near, "came-near", About::level, About::run},
    EventForm{EventKind::went_far, "went-far", About::level, About::run},
    EventForm{EventKind::menu_opened, "menu-opened", About::menu, About::player},
    EventForm{EventKind::menu_closed, "menu-closed", About::menu, About::player},
    EventForm{EventKind::menu_refused, "menu-refused", About::menu, About::run},
    EventForm{EventKind::after_came, "after", About::menu, About::run},
    EventForm{EventKind::fact_set, "fact-set", About::fact, About::value},
    EventForm{EventKind::fact_reset, "fact-reset", About::fact, About::value},
    EventForm{EventKind::out_of_range, "out-of-range", About::fact, About::run},
    EventForm{EventKind::value_without_level, "value-without-level", About::fact, About::run},
    EventForm{EventKind::marked, "marked", About::level, About::run},
    EventForm{EventKind::saved, "saved", About::run, About::nothing},
    EventForm{EventKind::restored, "restored", About::run, About::nothing},
    EventForm{EventKind::nothing_saved, "nothing-saved", About::run, About::nothing},
    EventForm{EventKind::no_checkpoint, "no-checkpoint", About::run, About::nothing},
    EventForm{EventKind::beyond_edition, "beyond-edition", About::run, About::nothing},
    EventForm{EventKind::chosen, "chosen", About::list, About::word},
    EventForm{EventKind::gap_began, "gap-began", About::place, About::player},
    EventForm{EventKind::gap_ended, "gap-ended", About::place, About::player},
    EventForm{EventKind::parcel_arrived, "parcel-arrived", About::parcel, About::nothing},
    EventForm{EventKind::piece_queued, "queued", About::piece, About::nothing},
    EventForm{EventKind::piece_reading, "reading", About::piece, About::nothing},
    EventForm{EventKind::piece_unpacking, "unpacking", About::piece, About::nothing},
    EventForm{EventKind::piece_making, "making", About::piece, About::nothing},
    EventForm{EventKind::piece_resident, "resident", About::piece, About::nothing},
    EventForm{EventKind::piece_given_up, "given-up", About::piece, About::nothing},
    EventForm{EventKind::piece_released, "released", About::piece, About::nothing},
    EventForm{EventKind::level_ready, "ready", About::level, About::nothing},
    EventForm{EventKind::level_attaching, "attaching", About::level, About::nothing},
    EventForm{EventKind::level_shown, "shown", About::level, About::nothing},
    EventForm{EventKind::level_hidden, "hidden", About::level, About::nothing},
    EventForm{EventKind::level_unloaded, "unloaded", About::level, About::nothing},
    EventForm{EventKind::session_ended, "session-ended", About::run, About::nothing},
    EventForm{EventKind::launched, "launched", About::nothing, About::nothing},
    EventForm{EventKind::left_out, "left-out", About::player, About::step},
    EventForm{EventKind::expected, "as-expected", About::player, About::step},
    EventForm{EventKind::not_as_expected, "not-as-expected", About::player, About::step},
    EventForm{EventKind::joined, "joined", About::machine, About::nothing},
    EventForm{EventKind::press_lost, "press-lost", About::item, About::player},
    EventForm{EventKind::stuck, "stuck", About::nothing, About::nothing},
    EventForm{EventKind::ended, "ended", About::nothing, About::nothing},
};

constexpr bool in_order() {
    for (std::size_t i = 0; i < event_forms.size(); ++i) {
        if (static_cast<std::size_t>(event_forms[i].kind) != i) return false;
    }
    return event_forms.size() == static_cast<std::size_t>(EventKind::ended) + 1;
}
static_assert(in_order(), "event_forms is indexed by EventKind");

std::string about_text(const plan::Plan& plan, const walk::Record& record, About about,
                       std::uint32_t index, const walk::Event& event) {
    if (about == About::value) {
        const plan::FactId fact{event.subject};
        const bool word = plan.facts[fact].initial.kind == plan::ValueKind::word;
        return plan::value_text(plan, fact,
                                word ? std::int64_t{index}
                                     : std::int64_t{static_cast<std::int32_t>(index)});
    }
    if (index == LevelId::no_value) return about == About::waypoint ? "nowhere" : "";
    switch (about) {
    case About::nothing:
    case About::value: return {};
    case About::trigger: return plan.triggers[plan::TriggerId{index}].name;
    case About::item: return plan::item_name(plan, plan::ItemId{index});
    case About::run: return fmt::format("transition {}", index);
    case About::list: return plan::list_name(plan, plan::ListId{index});
    case About::level: return plan.levels[LevelId{index}].name;
    case About::place: return plan::place_name(plan, LevelId{index});
    case About::veil: return plan.veils[plan::VeilId{index}].name;
    case About::player: return plan.routes[record.route].players[index].name;
    case About::waypoint: return plan.waypoints[plan::WaypointId{index}].name;
    case About::menu: return plan.menus[plan::MenuId{index}].name;
    case About::piece: return piece_name(plan, loading::PieceId{index});
    case About::machine: return plan.routes[record.route].machines[plan::MachineId{index}].name;
    case About::gate: return plan.gates[plan::GateId{index}].name;
    case About::fact: return plan.facts[plan::FactId{index}].name;
    case About::word: return plan.words[plan::WordId{index}];
    case About::step: {
        const auto& player = plan.routes[record.route].players[event.subject];
        return route_step_text(plan, player.steps[index]);
    }
    case About::parcel: {
        const plan::EditionId edition = plan.routes[record.route].edition;
        return plan.editions[edition].parcels[index].name;
    }
    }
    return {};
}

/// "for quay to be shown, which nothing has asked for" for a wait that lacks levels; what they
/// lack.
std::string missing_text(const plan::Plan& plan, const walk::Record& record,
                         const walk::Stuck& stuck) {
    const bool shown = stuck.awaited == plan::Awaited::shown;
    std::string text = fmt::format("waits for {} to be {}", plan::joined(stuck.lacking),
                                   shown ? "shown" : "ready");
    if (stuck.machine)
        text += fmt::format(" on {}", plan.routes[record.route].machines[stuck.machine].name);
    std::vector<LevelId> never_asked;
    std::vector<LevelId> loaded_not_shown;
    std::vector<LevelId> still_attached;
    for (const LevelId level : stuck.levels) {
        bool asked = false;
        bool ready = false;
        bool attaching = false;
        for (const walk::Event& event : record.events) {
            if (event.kind == EventKind::level_ready && event.subject == level.value)
                asked = ready = true;
            if (event.kind == EventKind::piece_queued && event.subject == level.value) asked = true;
            if (event.kind == EventKind::level_attaching && event.subject == level.value)
                attaching = true;
            if (event.kind == EventKind::level_shown && event.subject == level.value)
                attaching = false;
            if (event.kind == EventKind::level_unloaded && event.subject == level.value)
                asked = ready = attaching = false;
        }
        if (!asked) never_asked.push_back(level);
        if (ready && shown) (attaching ? still_attached : loaded_not_shown).push_back(level);
    }
    if (!never_asked.empty()) {
        text +=
            never_asked.size() == stuck.levels.size() && never_asked.size() == 1
                ? ", which nothing has asked for"
                : fmt::format("; nothing has asked for {}", plan::level_names(plan, never_asked));
    }
    if (!loaded_not_shown.empty()) {
        text += fmt::format("; {} {} loaded, but nothing shows {}",
                            plan::level_names(plan, loaded_not_shown),
                            loaded_not_shown.size() == 1 ? "is" : "are",
                            loaded_not_shown.size() == 1 ? "it" : "them");
    }
    if (!still_attached.empty()) {
        text += fmt::format("; {} {} still being attached", plan::level_names(plan, still_attached),
                            still_attached.size() == 1 ? "is" : "are");
    }
    return text;
}

std::string route_step_text(const plan::Plan& plan, const plan::RouteStep& step) {
    if (const auto* go = std::get_if<plan::GoStep>(&step.what)) {
        return fmt::format("go to {}", plan.waypoints[go->to].name);
    }
    if (const auto* press = std::get_if<plan::PressStep>(&step.what)) {
        return fmt::format("press {}", plan::item_name(plan, press->item));
    }
    return "go on";
}

/// Why a player can't do its next step.
/// Which parts of a condition do not hold, where others do.
std::string unmet_text(const plan::Condition& condition, const walk::Stuck& stuck) {
    const bool one = stuck.unmet.size() == 1;
    if (stuck.unmet.empty() || (one && condition.text_of(stuck.unmet.front()) == condition.text))
        return {};
    return fmt::format(": {} {}", plan::parts_text(condition, stuck.unmet),
                       one ? "does not hold" : "do not hold");
}

std::string player_stuck_text(const plan::Plan& plan, const walk::Record& record,
                              const plan::RouteStep& step) {
    const walk::Stuck& stuck = *record.stuck;
    switch (stuck.kind) {
    case walk::StuckKind::cannot_press: {
        if (!stuck.menu_open) return "the menu is not open, and nothing opens it";
        const plan::ConditionId when = plan.items[std::get<plan::PressStep>(step.what).item].when;
        return fmt::format("its \"{}\" does not hold{}", plan.conditions[when].text,
                           unmet_text(plan.conditions[when], stuck));
    }
    case walk::StuckKind::until: {
        const plan::ConditionId until = std::get<plan::UntilStep>(step.what).condition;
        return fmt::format("\"{}\" never comes true{}", plan.conditions[until].text,
                           unmet_text(plan.conditions[until], stuck));
    }
    case walk::StuckKind::frozen: {
        if (stuck.menus.empty()) return "the player is frozen, and nothing thaws it";
        return fmt::format("the open menu {} stops movement, and nothing closes it",
                           plan::joined(plan::names_in(plan.menus, stuck.menus)));
    }
    default:
        return stuck.nowhere ? "the player is nowhere, and nothing places it"
                             : "no path leads there";
    }
}

} // namespace

EventWords event_words(const plan::Plan& plan, const walk::Record& record,
                       const walk::Event& event) {
    const EventForm& form = event_forms.at(static_cast<std::size_t>(event.kind));
    EventWords words{form.word,
                     about_text(plan, record, form.subject, event.subject, event),
                     about_text(plan, record, form.detail, event.detail, event),
                     {}};
    if (event.player)
        words.player = plan.routes[record.route].players[event.player.value].name;
    else if (form.subject == About::player)
        words.player = words.subject;
    else if (form.detail == About::player)
        words.player = words.detail;
    return words;
}

std::string_view word_of(EventKind kind) {
    return event_forms.at(static_cast<std::size_t>(kind)).word;
}

std::optional<EventKind> event_kind(std::string_view word) {
    const auto found = std::find_if(event_forms.begin(), event_forms.end(),
                                    [&](const EventForm& form) { return form.word == word; });
    return found == event_forms.end() ? std::nullopt : std::optional(found->kind);
}

std::vector<std::string_view> all_event_words() {
    std::vector<std::string_view> words;
    for (const EventForm& form : event_forms) words.push_back(form.word);
    return words;
}

std::string cause_text(const plan::Plan& plan, const walk::Transition& transition) {
    if (transition.went_far) return "far from " + plan.levels[transition.near].name;
    return plan::cause_name(plan, transition.list, transition.near);
}

std::string cause_text(const plan::Plan& plan, const walk::LoadSummary& summary) {
    if (summary.cells.empty()) return cause_text(plan, *summary.cause);
    return summary.cause->went_far ? "far from cells" : "near cells";
}

std::string level_text(const plan::Plan& plan, const walk::LoadSummary& summary) {
    const std::string& name = plan.levels[summary.level].name;
    if (summary.cells.empty()) return name;
    return plan::cells_text(plan, plan.levels[*summary.cells.begin()].grid, summary.cells.size());
}

namespace {

/// What is waited for in vain; empty where nothing is.
std::string waits_text(const plan::Plan& plan, const walk::Record& record) {
    const walk::Stuck& stuck = *record.stuck;
    const plan::Route& route = plan.routes[record.route];
    switch (stuck.kind) {
    case walk::StuckKind::boot_waits: return "the boot " + missing_text(plan, record, stuck);
    case walk::StuckKind::list_waits: {
        const plan::Step& step = plan.lists[stuck.list].steps[stuck.step];
        const std::string waits = stuck.until
                                      ? fmt::format("waits until \"{}\", which never comes true{}",
                                                    plan.conditions[stuck.until].text,
                                                    unmet_text(plan.conditions[stuck.until], stuck))
                                      : missing_text(plan, record, stuck);
        return fmt::format("{} ({}) {}", plan::list_name(plan, stuck.list),
                           plan::place_text(plan, step.place), waits);
    }
    case walk::StuckKind::out_of_time: return {};
    case walk::StuckKind::endless:
        return fmt::format("{} runs over and over, and there is no end to it",
                           plan::list_name(plan, stuck.list));
    default: break;
    }
    const plan::RoutePlayer& player = route.players[stuck.player];
    const plan::RouteStep& step = player.steps[stuck.step];
    const std::string who = route.players.size() == 1
                                ? fmt::format("route {}", route.name)
                                : fmt::format("{} of route {}", player.name, route.name);
    if (stuck.kind == walk::StuckKind::at_gate) {
        return fmt::format(
            "{} ({}) waits at gate {} {}", who, plan::place_text(plan, step.place),
            plan.gates[stuck.gate].name,
            missing_text(plan, record, stuck).substr(std::string_view("waits ").size()));
    }
    if (stuck.kind == walk::StuckKind::until) {
        return fmt::format("{} ({}) waits until {}", who, plan::place_text(plan, step.place),
                           player_stuck_text(plan, record, step));
    }
    return fmt::format("{} ({}) can't {}: {}", who, plan::place_text(plan, step.place),
                       route_step_text(plan, step), player_stuck_text(plan, record, step));
}

} // namespace

std::string hindrance_text(const plan::Plan& plan, const walk::Record& record,
                           const plan::RouteStep& step) {
    const walk::Stuck& stuck = *record.stuck;
    if (stuck.out_of_time)
        return "it takes too long: the walk is not done after " + short_time(stuck.since);
    switch (stuck.kind) {
    case walk::StuckKind::boot_waits:
    case walk::StuckKind::list_waits:
    case walk::StuckKind::endless:
    case walk::StuckKind::out_of_time: return waits_text(plan, record);
    case walk::StuckKind::at_gate:
        return fmt::format("gate {} {}", plan.gates[stuck.gate].name,
                           missing_text(plan, record, stuck));
    default: break;
    }
    return player_stuck_text(plan, record, step);
}

std::string stuck_text(const plan::Plan& plan, const walk::Record& record) {
    const walk::Stuck& stuck = *record.stuck;
    std::string text = waits_text(plan, record);
    if (stuck.out_of_time) {
        text = fmt::format("it is not done after {}{}{}", short_time(stuck.since),
                           text.empty() ? "" : "; ", text);
    }
    if (!stuck.repeats) return text;
    const std::string list = plan::list_name(plan, stuck.repeats);
    return text + (stuck.places
                       ? fmt::format("; placed {} by {}", counted(stuck.times, "time"), list)
                       : fmt::format("; {} ran {}", list, counted(stuck.times, "time")));
}

} // namespace hestrel::tables
