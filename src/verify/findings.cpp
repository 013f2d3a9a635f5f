// What a game does that its plan does not say, and the other way round, in sentences.

#include "verify/verify.hpp"

#include "plan/finding_kinds.hpp"
#include "plan/names.hpp"
#include "plan/texts.hpp"

#include <algorithm>
#include <array>
#include <initializer_list>
#include <map>
#include <set>
#include <tuple>

namespace hestrel::verify {

using flow::Objection;
using plan::LevelId;
using plan::Micros;
using walk::Cue;
using walk::EventKind;

namespace {

/// What becomes of a level or kit that comes; what matters most last.
constexpr std::array coming{EventKind::piece_queued,   EventKind::piece_reading,
                            EventKind::piece_making,   EventKind::piece_unpacking,
                            EventKind::piece_resident, EventKind::level_attaching,
                            EventKind::level_ready,    EventKind::level_shown};
constexpr std::array leaving{EventKind::piece_released, EventKind::piece_given_up,
                             EventKind::level_hidden, EventKind::level_unloaded};

std::string concat(std::initializer_list<std::string_view> parts) {
    std::string text;
    for (const std::string_view part : parts) text += part;
    return text;
}

template <class Kinds>
std::size_t rank(const Kinds& kinds, EventKind kind) {
    return static_cast<std::size_t>(std::find(kinds.begin(), kinds.end(), kind) - kinds.begin());
}
/// In a sentence: "quay was shown".
std::string_view was(EventKind kind) {
    switch (kind) {
    case EventKind::piece_queued: return "was asked for";
    case EventKind::piece_reading: return "began to be read";
    case EventKind::piece_making: return "began to be made";
    case EventKind::piece_unpacking: return "began to be unpacked";
    case EventKind::piece_resident: return "was loaded";
    case EventKind::level_attaching: return "began to be attached";
    case EventKind::level_ready: return "was ready";
    case EventKind::level_shown: return "was shown";
    case EventKind::piece_released: return "was released";
    case EventKind::piece_given_up: return "was given up";
    case EventKind::level_hidden: return "was hidden";
    default: return "was unloaded";
    }
}

class Findings {
public:
    Findings(const plan::Plan& plan, plan::DeviceId device, const Log& log,
             const PlayResult& result, std::uint32_t file, const Options& options)
        : plan_(plan), device_(device), log_(log), result_(result), file_(file), options_(options) {
    }

    std::vector<plan::Finding> collect() {
        unknown_names();
        for (const SessionResult& session : result_.sessions) {
            session_ = &session;
            firings();
            went_through();
            done_by_itself();
            levels();
            orders();
            facts();
            memory();
        }
        return std::move(findings_);
    }

private:
    // --- where and when

    [[nodiscard]] plan::Place at_line(std::size_t line) const {
        plan::Place place = log_.events[line].place;
        place.file = file_;
        return place;
    }
    /// On the game's clock.
    [[nodiscard]] std::string when(Micros at) const {
        return plan::short_time(at + session_->session.boot_end);
    }
    plan::Finding& add(std::string_view name, plan::Place place, std::string message) {
        plan::Finding& finding = findings_.emplace_back();
        finding.severity = plan::kind_of(name).severity;
        finding.name = name;
        finding.place = place;
        finding.message = std::move(message);
        finding.device = device_;
        return finding;
    }
    plan::Finding& add_at(std::string_view name, plan::Place place, Micros at,
                          std::string message) {
        plan::Finding& finding = add(name, place, std::move(message));
        finding.from = at + session_->session.boot_end;
        return finding;
    }
    [[nodiscard]] const std::string& piece(std::uint32_t piece) const {
        return piece_name(plan_, piece);
    }
    [[nodiscard]] plan::Place piece_place(std::uint32_t piece) const {
        if (piece < plan_.levels.size()) return plan_.levels[LevelId{piece}].place;
        return plan_.kits[plan::KitId{piece - plan_.levels.size()}].place;
    }
    /// "trigger quay-approach at 12.50 s" or "the boot".
    [[nodiscard]] std::string cause(std::uint32_t number) const {
        if (number == 0) return "the boot";
        const walk::Transition& transition = session_->replay.record.transitions[number - 1];
        return plan::cause_name(plan_, transition.list, transition.near) + " at " +
               when(transition.fired - session_->replay.boot_end);
    }

    // --- names

    void unknown_names() {
        std::set<std::pair<std::string_view, std::string>> known;
        for (const Unknown& each : result_.play.unknown) {
            const LogEvent& event = log_.events[each.line];
            const bool of_detail = event.kind == EventKind::chosen ||
                                   (event.kind == EventKind::fact_set && each.what != "fact");
            const std::string& name = of_detail ? event.detail : event.subject;
            if (!known.emplace(each.what, name).second) continue;
            const std::string hint = options_.hint ? options_.hint(name, each.what) : "";
            add("unknown-name", at_line(each.line),
                concat({"the plan has no ", each.what, " \"", name, "\"", hint}));
        }
    }

    // --- what begins lists

    [[nodiscard]] std::string cue_text(const Cue& cue) const {
        switch (cue.what) {
        case Cue::What::fired:
            return concat(
                {"trigger ", plan_.triggers[plan::TriggerId{cue.subject}].name, " fired"});
        case Cue::What::pressed:
            return concat(
                {"item ", plan::item_name(plan_, plan::ItemId{cue.subject}), " was pressed"});
        case Cue::What::after:
            return concat(
                {"the after of menu ", plan_.menus[plan::MenuId{cue.subject}].name, " came"});
        case Cue::What::came_near: return concat({piece(cue.subject), " came near"});
        default: return concat({piece(cue.subject), " went far"});
        }
    }
    [[nodiscard]] std::string menu_of(const Cue& cue) const {
        const plan::MenuId menu = cue.what == Cue::What::pressed
                                      ? plan_.items[plan::ItemId{cue.subject}].menu
                                      : plan::MenuId{cue.subject};
        return plan_.menus[menu].name;
    }
    [[nodiscard]] std::string condition_of(const Cue& cue) const {
        plan::ConditionId when;
        if (cue.what == Cue::What::fired) when = plan_.triggers[plan::TriggerId{cue.subject}].when;
        if (cue.what == Cue::What::pressed) when = plan_.items[plan::ItemId{cue.subject}].when;
        if (cue.what == Cue::What::came_near) {
            const auto& near = plan_.levels[LevelId{cue.subject}].near;
            if (near) when = near->when;
        }
        return when ? plan_.conditions[when].text : std::string();
    }
    [[nodiscard]] std::string why_not(const Cue& cue, Objection objection) const {
        switch (objection) {
        case Objection::none: return {};
        case Objection::other_kind: return "it is not for that player";
        case Objection::not_live: {
            const auto& in = plan_.triggers[plan::TriggerId{cue.subject}].in;
            return in.empty() ? std::string("the game had not booted")
                              : concat({plan::level_names(plan_, in, " or "), " was not shown"});
        }
        case Objection::does_not_hold: return concat({"\"", condition_of(cue), "\" did not hold"});
        case Objection::spent: return "it fires once, and had fired";
        case Objection::running: return "its steps were still running";
        case Objection::too_soon: return "it had fired too short a time before";
        case Objection::not_open: return concat({"menu ", menu_of(cue), " was not open"});
        case Objection::never_comes: return concat({"menu ", menu_of(cue), " has no after"});
        case Objection::never_streams: return "it does not stream by distance";
        case Objection::session_is_over: return "the session had ended";
        case Objection::never_booted: return "the boot never ends";
        }
        return {};
    }
    void firings() {
        const Session& session = session_->session;
        for (std::size_t i = 0; i < session.script.cues.size(); ++i) {
            const Cue& cue = session.script.cues[i];
            const Objection objection = session_->replay.judged[i].objection;
            if (objection == Objection::none || !cue.is_judged()) continue;
            plan::Finding& finding =
                add_at("unplanned-firing", at_line(session.cue_lines[i]), cue.at,
                       concat({cue_text(cue), " at ", when(cue.at),
                               ", and by the plan it could not: ", why_not(cue, objection)}));
            if (cue.what == Cue::What::came_near || cue.what == Cue::What::went_far)
                finding.level = LevelId{cue.subject};
        }
        for (const walk::CameTrue& each : session_->never_fired) {
            const plan::Trigger& trigger = plan_.triggers[each.trigger];
            add_at("firing-missing", trigger.place, each.at,
                   concat({"trigger ", trigger.name, " did not fire at ", when(each.at),
                           ", when \"", plan_.conditions[trigger.when].text, "\" came to hold"}));
        }
    }

    void went_through() {
        for (const walk::WentThrough& each : session_->went_through) {
            const plan::Trigger& trigger = plan_.triggers[each.trigger];
            add_at("firing-missing", trigger.place, each.to,
                   concat({"trigger ", trigger.name, " did not fire between ", when(each.from),
                           " and ", when(each.to), ", when ",
                           result_.play.players[each.player.value], " went through it"}));
        }
    }

    // --- levels

    void done_by_itself() {
        for (const ByItself& each : session_->by_itself) {
            const Cue& cue = each.cue;
            if (cue.what == Cue::What::fact_set) continue; // a game may set what it likes
            const bool brought = cue.what == Cue::What::brought;
            const EventKind kind = log_.events[each.line].kind;
            add_at(brought ? "unplanned-load" : "unplanned-unload", at_line(each.line), cue.at,
                   concat({piece(cue.subject), " ", was(kind), " at ", when(cue.at),
                           ", and nothing in the plan ",
                           brought ? "asks for it then" : "lets it go then"}))
                .level = LevelId{cue.subject};
        }
    }

    using Visit = std::pair<std::uint32_t, std::size_t>;
    using Group = std::vector<const Outcome*>;

    void levels() {
        std::map<Visit, Group> planned;
        std::map<Visit, Group> unplanned;
        std::vector<std::pair<bool, Visit>> order; // by their first event
        for (const Outcome& outcome : session_->outcomes) {
            if (outcome.adopted) continue;
            const bool of_plan = outcome.planned.has_value();
            Group& group = (of_plan ? planned : unplanned)[{outcome.subject, outcome.visit}];
            if (group.empty()) order.push_back({of_plan, {outcome.subject, outcome.visit}});
            group.push_back(&outcome);
        }
        find_missing(planned);
        for (const auto& [of_plan, visit] : order) {
            if (of_plan)
                visit_of_plan(planned.at(visit));
            else
                visit_by_itself(unplanned.at(visit));
        }
    }
    static bool is_missing(const Outcome* outcome) {
        return outcome->what == Outcome::What::missing;
    }
    /// All of its coming is.
    static bool never_came(const Group& group) {
        bool any = false;
        for (const Outcome* each : group) {
            if (!comes(each->kind)) continue;
            if (!is_missing(each)) return false;
            any = true;
        }
        return any;
    }
    /// A kit's coming goes without saying where a level that uses it never came.
    void find_missing(const std::map<Visit, Group>& planned) {
        missing_levels_.clear();
        for (const auto& [visit, group] : planned) {
            if (visit.first < plan_.levels.size() && never_came(group))
                missing_levels_.insert(LevelId{visit.first});
        }
    }
    [[nodiscard]] bool goes_without_saying(std::uint32_t kit) const {
        if (kit < plan_.levels.size()) return false;
        const plan::KitId id{kit - plan_.levels.size()};
        return std::any_of(missing_levels_.begin(), missing_levels_.end(), [&](LevelId level) {
            const auto& kits = plan_.levels[level].kits;
            return std::find(kits.begin(), kits.end(), id) != kits.end();
        });
    }
    [[nodiscard]] std::string asked_by(const Outcome& outcome) const {
        return outcome.subject < plan_.levels.size()
                   ? concat({" (", cause(outcome.transition), ")"})
                   : std::string();
    }

    void visit_of_plan(const Group& group) {
        if (never_came(group)) {
            const Outcome& first = *group.front();
            if (goes_without_saying(first.subject)) return;
            missing("load-missing", first,
                    concat({piece(first.subject), " never came: by the plan it ", was(first.kind),
                            " at ", when(*first.planned)}));
            return;
        }
        missing_while_coming(group);
        missing_while_leaving(group);
        for (const bool of_coming : {true, false}) off(group, of_coming);
    }
    void missing(std::string_view name, const Outcome& outcome, const std::string& message) {
        plan::Finding& finding = add_at(name, piece_place(outcome.subject), *outcome.planned,
                                        message + asked_by(outcome));
        if (outcome.subject < plan_.levels.size()) finding.level = LevelId{outcome.subject};
    }
    /// It came, and some of its way is not in the log. That it was never shown is more than that.
    void missing_while_coming(const Group& group) {
        const Outcome* shown = nullptr;
        std::vector<const Outcome*> others;
        for (const Outcome* each : group) {
            if (!comes(each->kind) || !is_missing(each)) continue;
            if (each->kind == EventKind::level_shown)
                shown = each;
            else
                others.push_back(each);
        }
        if (shown != nullptr) {
            missing(
                "load-missing", *shown,
                concat({piece(shown->subject), " came, and was never shown: by the plan it was at ",
                        when(*shown->planned)}));
        } else if (!others.empty()) {
            not_logged(others);
        }
    }
    void not_logged(std::vector<const Outcome*> all) {
        // Many logs begin while the game boots.
        if (!session_->session.boot_start)
            std::erase_if(all, [](const Outcome* each) { return *each->planned <= Micros{}; });
        if (all.empty()) return;
        std::vector<std::string> texts;
        for (const Outcome* each : all)
            texts.push_back(concat({was(each->kind), " at ", when(*each->planned)}));
        missing("not-logged", *all.front(),
                concat({"the log does not say that ", piece(all.front()->subject), " ",
                        plan::joined(texts, ", ")}));
    }
    void missing_while_leaving(const Group& group) {
        std::vector<const Outcome*> lost;
        bool unloaded = false; // as the log says
        for (const Outcome* each : group) {
            if (comes(each->kind)) continue;
            if (is_missing(each))
                lost.push_back(each);
            else
                unloaded = unloaded || each->kind == EventKind::level_unloaded;
        }
        if (lost.empty()) return;
        // What matters most of it.
        const Outcome* most = lost.front();
        for (const Outcome* each : lost) {
            if (rank(leaving, each->kind) > rank(leaving, most->kind)) most = each;
        }
        const bool stays = !unloaded && (most->kind == EventKind::level_unloaded ||
                                         most->kind == EventKind::level_hidden);
        if (!stays) return not_logged(lost);
        missing("unload-missing", *most,
                concat({piece(most->subject), " stayed: by the plan it ", was(most->kind), " at ",
                        when(*most->planned)}));
    }
    /// Of what is late or early of one coming, or one leaving, what matters most. A kit that is
    /// late makes a level late, and what leaves in a switch leaves late where what comes is: these
    /// go without saying.
    void off(const Group& group, bool of_coming) {
        const Outcome* worst = nullptr;
        const auto weight = [&](const Outcome* of) {
            return of_coming ? rank(coming, of->kind) : rank(leaving, of->kind);
        };
        for (const Outcome* each : group) {
            const bool is_off =
                each->what == Outcome::What::later || each->what == Outcome::What::earlier;
            if (comes(each->kind) != of_coming || !is_off) continue;
            if (worst == nullptr || weight(each) >= weight(worst)) worst = each;
        }
        if (worst == nullptr) return;
        const bool is_level = worst->subject < plan_.levels.size();
        if ((!is_level || !of_coming) && comes_off(*worst)) return;
        const bool late = worst->what == Outcome::What::later;
        const Micros by = worst->off;
        plan::Finding& finding = add_at(
            late ? "later-than-planned" : "earlier-than-planned", at_line(worst->line),
            *worst->measured,
            concat({piece(worst->subject), " ", was(worst->kind), " at ", when(*worst->measured),
                    ", ", plan::short_time(late ? by : Micros{} - by), " ",
                    late ? "later" : "earlier", " than planned",
                    of_coming ? asked_by(*worst) : std::string()}));
        if (is_level) finding.level = LevelId{worst->subject};
    }
    /// Whether a level came as late, or as early, about then.
    [[nodiscard]] bool comes_off(const Outcome& about) const {
        constexpr Micros before = plan::seconds(1);
        constexpr Micros after = plan::seconds(10);
        return std::any_of(
            session_->outcomes.begin(), session_->outcomes.end(), [&](const Outcome& each) {
                return each.what == about.what && each.subject < plan_.levels.size() &&
                       comes(each.kind) && *each.measured >= *about.measured - before &&
                       *each.measured <= *about.measured + after;
            });
    }
    void visit_by_itself(const Group& group) {
        const Outcome& first = *group.front();
        if (first.subject >= plan_.levels.size() && result_.near_left_out) return;
        const bool brought = comes(first.kind);
        plan::Finding& finding = add_at(brought ? "unplanned-load" : "unplanned-unload",
                                        at_line(first.line), *first.measured,
                                        concat({piece(first.subject), " ", was(first.kind), " at ",
                                                when(*first.measured), ", and nothing in the plan ",
                                                brought ? "asks for it then" : "lets it go then"}));
        if (first.subject < plan_.levels.size()) finding.level = LevelId{first.subject};
    }

    /// In which order a transition asked, where that was at its time.
    void orders() {
        std::map<std::uint32_t, Group> asked; // by transition
        for (const Outcome& outcome : session_->outcomes) {
            if (outcome.kind == EventKind::piece_queued && outcome.transition != 0 &&
                outcome.what == Outcome::What::as_planned && !outcome.adopted &&
                outcome.subject < plan_.levels.size())
                asked[outcome.transition].push_back(&outcome);
        }
        const auto names = [&](const Group& group) {
            std::vector<std::string> all;
            for (const Outcome* each : group) all.push_back(piece(each->subject));
            return plan::joined(all);
        };
        for (auto& [transition, group] : asked) {
            Group planned = group;
            std::stable_sort(
                planned.begin(), planned.end(),
                [](const auto* one, const auto* other) { return one->order < other->order; });
            std::stable_sort(group.begin(), group.end(), [](const auto* one, const auto* other) {
                return std::tuple(*one->measured, one->line) <
                       std::tuple(*other->measured, other->line);
            });
            if (planned == group) continue;
            add_at("order-differs", at_line(group.front()->line), *group.front()->measured,
                   concat({cause(transition), " asks for ", names(group),
                           " in this order; by the plan for ", names(planned)}));
        }
    }

    // --- the rest

    void facts() {
        for (const FactNotSet& each : session_->facts) {
            const plan::Fact& fact = plan_.facts[each.fact];
            add_at("fact-differs", fact.place, each.at,
                   concat({fact.name, " was not set to ",
                           plan::value_text(plan_, each.fact, each.value), " at ", when(each.at)}));
        }
    }

    /// The moment at which most more, or most less, is in use than planned.
    void memory() {
        constexpr plan::Bytes least = plan::mebibytes(1);
        const MemoryAt* worst = nullptr;
        std::size_t count = 0;
        const auto by = [](const MemoryAt& of) {
            return std::abs(of.measured.count - of.planned.count);
        };
        for (const MemoryAt& each : session_->memory) {
            const auto allowed = static_cast<std::int64_t>(options_.tolerance.share *
                                                           static_cast<double>(each.planned.count));
            if (by(each) <= std::max(allowed, least.count)) continue;
            ++count;
            if (worst == nullptr || by(each) > by(*worst)) worst = &each;
        }
        if (worst == nullptr) return;
        plan::Place place = at_line(0);
        for (std::size_t line = 0; line < log_.events.size(); ++line) {
            const LogEvent& event = log_.events[line];
            if (event.figure == LogEvent::Figure::memory &&
                event.at == worst->at + session_->session.boot_end)
                place = at_line(line);
        }
        const std::string others = count > 1 ? concat({"; so at ", std::to_string(count), " of ",
                                                       std::to_string(session_->memory.size())})
                                             : std::string();
        add_at("memory-differs", place, worst->at,
               concat({plan::short_memory(worst->measured), " in use at ", when(worst->at), ", ",
                       plan::short_memory(worst->planned), " planned", others}));
    }

    const plan::Plan& plan_;
    plan::DeviceId device_;
    const Log& log_;
    const PlayResult& result_;
    std::uint32_t file_;
    const Options& options_;
    const SessionResult* session_ = nullptr;
    std::set<LevelId> missing_levels_;
    std::vector<plan::Finding> findings_;
};

} // namespace

std::vector<plan::Finding> findings(const plan::Plan& plan, plan::DeviceId device, const Log& log,
                                    const PlayResult& result, std::uint32_t file,
                                    const Options& options) {
    return Findings(plan, device, log, result, file, options).collect();
}

} // namespace hestrel::verify
