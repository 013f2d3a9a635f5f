// The clock, and what flow asks of its stage.

#include "walk/walk.hpp"

#include "walk/findings.hpp"
#include "walk/frames.hpp"
#include "walk/simulation.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::walk {

using loading::ChangeKind;
using loading::Due;
using loading::Holder;
using plan::Bytes;
using plan::LevelId;
using plan::Micros;
using plan::TriggerId;

namespace {

EventKind event_of(ChangeKind kind) {
    switch (kind) {
    case ChangeKind::piece_queued: return EventKind::piece_queued;
    case ChangeKind::piece_reading: return EventKind::piece_reading;
    case ChangeKind::piece_unpacking: return EventKind::piece_unpacking;
    case ChangeKind::piece_making: return EventKind::piece_making;
    case ChangeKind::piece_resident: return EventKind::piece_resident;
    case ChangeKind::piece_given_up: return EventKind::piece_given_up;
    case ChangeKind::piece_released: return EventKind::piece_released;
    case ChangeKind::level_ready: return EventKind::level_ready;
    case ChangeKind::level_attaching: return EventKind::level_attaching;
    case ChangeKind::level_shown: return EventKind::level_shown;
    case ChangeKind::level_hidden: return EventKind::level_hidden;
    case ChangeKind::level_unloaded: return EventKind::level_unloaded;
    }
    return EventKind::ended;
}

std::optional<flow::LevelChange> level_change_of(ChangeKind kind) {
    switch (kind) {
    case ChangeKind::level_ready: return flow::LevelChange::ready;
    case ChangeKind::level_shown: return flow::LevelChange::shown;
    case ChangeKind::level_hidden: return flow::LevelChange::hidden;
    case ChangeKind::level_unloaded: return flow::LevelChange::unloaded;
    default: return std::nullopt;
    }
}

std::vector<Walker> walkers_of(const plan::Route& route) {
    std::vector<Walker> walkers(route.players.size());
    for (std::size_t i = 0; i < walkers.size(); ++i) {
        walkers[i].route = &route.players[i];
        for (const plan::RouteStep& step : route.players[i].steps)
            walkers[i].picked.push_back(static_cast<bool>(step.when)); // told when its turn comes
    }
    return walkers;
}

std::vector<plan::PlayerKindId> kinds_of(const plan::Route& route) {
    std::vector<plan::PlayerKindId> kinds;
    for (const plan::RoutePlayer& player : route.players) kinds.push_back(player.kind);
    return kinds;
}

std::vector<std::string> names_of_players(const plan::Route& route) {
    std::vector<std::string> names;
    for (const plan::RoutePlayer& player : route.players) names.push_back(player.name);
    return names;
}

flow::Setup setup_for(const plan::Plan& plan, const plan::Route& route, const Options& options) {
    flow::Setup setup = flow::setup_of(plan, route.start, names_of_players(route), options.saved);
    setup.edition = route.edition;
    setup.after_is_told = route.unhurried;
    setup.waits_for_ever = route.unhurried;
    return setup;
}

/// Joins spells in which a player goes on doing what it did: what it did in between took no time.
void join_alike(std::vector<Spell>& spells) {
    std::vector<Spell> joined;
    for (const Spell& spell : spells) {
        const bool goes_on = !joined.empty() && joined.back().player == spell.player &&
                             joined.back().doing == spell.doing && joined.back().to == spell.from;
        if (goes_on) {
            joined.back().to = spell.to;
        } else {
            joined.push_back(spell);
        }
    }
    spells = std::move(joined);
}

} // namespace

Simulation::Simulation(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
                       const Options& options, Ground& ground)
    : plan_(plan), route_(plan.routes[route]), most_transitions_(options.most_transitions),
      stands_(options.stand), catalogue_(loading::catalogue_for(plan, device)),
      loader_(catalogue_, sequence_), walkers_(walkers_of(route_)),
      flow_(plan, *this, setup_for(plan, route_, options)), ground_(ground),
      triggers_(plan, ground.zones(), flow_, *this, kinds_of(route_)), rules_(plan, flow_, *this),
      breaches_(plan.rules.size(), 0), runs_(plan.lists.size()), carried_(plan) {
    carried_.begin(flow_.facts());
    if (route_.unhurried) triggers_.forget_rearm();
    record_.route = route;
    record_.device = device;
    loader_.ledger().take({}, Holder::players, 0, loading::players_memory(plan, kinds_of(route_)));
    if (!options.delivery) return;
    parcels_ = deliveries(plan, catalogue_, route_.edition, device);
    if (parcels_.empty()) return; // delivered whole
    std::vector<loading::PieceId> all;
    for (const loading::PieceId piece : catalogue_.pieces.ids()) all.push_back(piece);
    loader_.hold_back(all);
    for (const loading::PieceId piece : parcels_.front().pieces) loader_.deliver(piece);
    for (std::size_t i = 1; i < parcels_.size(); ++i)
        plan_event(Planned::Kind::parcel, parcels_[i].at, 0, static_cast<std::uint32_t>(i));
}

// --- flow::Stage: levels -----------------------------------------------------

Transition* Simulation::transition(flow::RunId run) {
    if (run.value == 0 || run.value > record_.transitions.size()) return nullptr;
    return &record_.transitions[run.value - 1];
}

Transition& Simulation::begin_transition(flow::RunId run) {
    Transition& begun = record_.transitions.emplace_back();
    begun.number = run.value;
    begun.fired = now();
    for (const Walker& walker : walkers_) begun.metres.push_back(walker.traveller.metres(now()));
    return begun;
}

/// Whether a list runs more often than anything in a game does, or too much has happened in all
/// (docs/model.md, "A walk"). What routes press is as often as they say.
void Simulation::look_for_circle(plan::ListId list) {
    if (record_.transitions.size() > most_transitions_) endless_ = list;
    if (plan_.lists[list].owner == plan::OwnerKind::item) return;
    constexpr Micros second = plan::seconds(1);
    constexpr std::uint64_t often = 500;
    Runs& runs = runs_[list];
    if (now() - runs.since > second && !routes_done()) runs = {now(), 0};
    if (++runs.count > often * walkers_.size()) endless_ = list;
}

/// Remembers what a transition asks for that is not there yet.
void Simulation::called(LevelId level, flow::RunId run, bool to_show) {
    Transition* by = transition(run);
    if (by == nullptr) return;
    for (const LevelId each : plan::asked_with(catalogue_.tree, level)) {
        if (to_show ? loader_.shown(each) : loader_.loaded(each)) continue;
        const auto known =
            std::find_if(by->called.begin(), by->called.end(),
                         [&](const Transition::Called& call) { return call.level == each; });
        if (known == by->called.end()) {
            by->called.push_back({each, to_show, record_.events.size(), now()});
        } else {
            known->to_show = known->to_show || to_show;
        }
    }
}

void Simulation::ask(LevelId level, plan::Priority priority, flow::RunId run) {
    called(level, run, false);
    loader_.ask(level, priority, run.value);
}

void Simulation::show(LevelId level, plan::Priority priority, flow::RunId run) {
    called(level, run, true);
    loader_.show(level, priority, run.value);
}

bool Simulation::delivered(LevelId level) const {
    bool all = true;
    catalogue_.for_pieces(level,
                          [&](loading::PieceId piece) { all = all && loader_.delivered(piece); });
    return all;
}

std::vector<flow::LevelEvent> Simulation::take_level_events() {
    std::vector<flow::LevelEvent> events;
    for (const loading::Change& change : loader_.take_changes()) {
        record_.events.push_back({change.at, event_of(change.kind), change.index, 0, {}});
        const auto what = level_change_of(change.kind);
        if (!what) continue;
        if (*what == flow::LevelChange::shown || *what == flow::LevelChange::hidden)
            rules_.levels_changed();
        events.push_back({LevelId{change.index}, *what});
        triggers_.level_changed(events.back());
    }
    return events;
}

// --- flow::Stage: the rest ---------------------------------------------------

void Simulation::wake_after(Micros delay, std::uint32_t alarm) {
    plan_event(Planned::Kind::alarm, now() + delay, 0, alarm);
}

void Simulation::veil_changed(plan::VeilId veil, bool up) {
    const std::vector<Bytes> memory =
        loading::by_pool(plan_.pools.size(), plan_.veils[veil].memory);
    if (up) {
        loader_.ledger().take(now(), Holder::veil, veil.value, memory);
    } else {
        loader_.ledger().give_back(now(), Holder::veil, veil.value, memory);
    }
    loader_.set_veiled(flow_.veils().any());
    triggers_.veils_changed();
    log(up ? EventKind::veil_up : EventKind::veil_down, veil.value);
}

void Simulation::crossed(flow::PlayerId player, const flow::Zone& zone, bool enters) {
    auto& needs = walkers_[player.value].needs;
    const std::uint32_t by = enters ? 1 : static_cast<std::uint32_t>(-1);
    switch (zone.kind) {
    case flow::Zone::Kind::trigger:
        log(enters ? EventKind::entered : EventKind::left, zone.index, player.value);
        break;
    case flow::Zone::Kind::area: needs[zone.level()].stood += by; break;
    case flow::Zone::Kind::seen: needs[zone.level()].seen += by; break;
    case flow::Zone::Kind::near_load:
    case flow::Zone::Kind::near_unload: break;
    }
}

void Simulation::firing(TriggerId trigger) {
    log(EventKind::fired, trigger.value,
        static_cast<std::uint32_t>(record_.transitions.size() + 1));
}

void Simulation::firing_lost(TriggerId trigger, flow::PlayerId player) {
    log(EventKind::firing_lost, trigger.value, player.value);
}

void Simulation::near_began(LevelId level, bool went_far, flow::RunId run) {
    Transition& begun = begin_transition(run);
    begun.near = level;
    begun.went_far = went_far;
    begun.ended = now();
    log(went_far ? EventKind::went_far : EventKind::came_near, level.value, run.value);
}

void Simulation::near_refused(LevelId level) {
    log(EventKind::leave_refused, level.value);
}

void Simulation::note(const flow::Event& note) {
    const auto run = note.run.value;
    const Transition* of = transition(note.run);
    carried_.note(note, of != nullptr ? flow::CarryCause{of->list, of->near} : flow::CarryCause{},
                  flow_.facts());
    const auto fact_event = [&](EventKind kind) {
        const flow::Facts& facts = flow_.facts();
        const auto value = facts.all()[facts.slots().of(plan::FactId{note.detail}, note.player)];
        log(kind, note.detail, static_cast<std::uint32_t>(static_cast<std::int32_t>(value)));
        record_.events.back().player = note.player;
    };
    switch (note.kind) {
    case flow::EventKind::started: {
        went_on();
        Transition& begun = begin_transition(note.run);
        begun.list = plan::ListId{note.detail};
        begun.firer = note.player;
        look_for_circle(begun.list);
        return;
    }
    case flow::EventKind::ended:
        went_on();
        transition(note.run)->ended = now();
        log(EventKind::list_ended, transition(note.run)->list.value, run);
        return;
    case flow::EventKind::abandoned:
        transition(note.run)->abandoned = true;
        log(EventKind::list_abandoned, note.detail, run);
        return;
    case flow::EventKind::dropped:
        went_on();
        transition(note.run)->abandoned = true;
        log(EventKind::list_dropped, note.detail, run);
        return;
    case flow::EventKind::waits: return;
    case flow::EventKind::gave_up_waiting:
        log(EventKind::gave_up_waiting, transition(note.run)->list.value, run);
        return;
    case flow::EventKind::switch_began: log(EventKind::switch_began, note.detail, run); return;
    case flow::EventKind::switch_ended:
        went_on();
        log(EventKind::switch_ended, note.detail, run);
        return;
    case flow::EventKind::switch_refused: log(EventKind::switch_refused, note.detail, run); return;
    case flow::EventKind::variant_refused:
        log(EventKind::variant_refused, note.detail, run);
        return;
    case flow::EventKind::leave_refused: log(EventKind::leave_refused, note.detail, run); return;
    case flow::EventKind::leave_cant_wait: log(EventKind::leave_cant_wait, run); return;
    case flow::EventKind::fact_set: fact_event(EventKind::fact_set); return;
    case flow::EventKind::fact_reset:
        fact_event(EventKind::fact_reset);
        if (Transition* by = transition(note.run)) by->facts_reset.emplace_back(note.detail);
        return;
    case flow::EventKind::out_of_range: log(EventKind::out_of_range, note.detail, run); return;
    case flow::EventKind::value_without_level:
        log(EventKind::value_without_level, note.detail, run);
        return;
    case flow::EventKind::marked: log(EventKind::marked, note.detail, run); return;
    case flow::EventKind::saved: log(EventKind::saved, run); return;
    case flow::EventKind::restored: log(EventKind::restored, run); return;
    case flow::EventKind::nothing_saved: log(EventKind::nothing_saved, run); return;
    case flow::EventKind::no_checkpoint: log(EventKind::no_checkpoint, run); return;
    case flow::EventKind::beyond_edition:
        log(EventKind::beyond_edition, run);
        record_.beyond_edition.push_back({now(), run, note.place, LevelId{note.detail}});
        return;
    case flow::EventKind::menu_refused: log(EventKind::menu_refused, note.detail, run); return;
    case flow::EventKind::chosen: log(EventKind::chosen, note.detail, run); return;
    case flow::EventKind::session_ended:
        record_.session_ended = true;
        log(EventKind::session_ended, run);
        return;
    }
}

// --- the clock ---------------------------------------------------------------

void Simulation::plan_event(Planned::Kind kind, Micros at, PlayerNumber player,
                            std::uint32_t index) {
    const bool of_player = kind == Planned::Kind::crossing || kind == Planned::Kind::piece_end;
    const std::uint32_t generation = of_player ? walkers_[player].traveller.generation : 0;
    agenda_.push({{at, sequence_.next()}, kind, player, generation, index});
}

bool Simulation::holds(const Planned& event) const {
    const flow::Traveller& traveller = walkers_[event.player].traveller;
    switch (event.kind) {
    case Planned::Kind::alarm: return flow_.awaits(event.index);
    case Planned::Kind::parcel: return true;
    case Planned::Kind::pause_end:
    case Planned::Kind::patience: return event.index == walkers_[event.player].step;
    case Planned::Kind::crossing: {
        // What it gets into in the very instant in which it is stopped, it got into.
        const bool just_stopped =
            event.generation + 1 == traveller.generation && traveller.stopped_at == event.due.at;
        return event.index >= traveller.next_crossing &&
               (event.generation == traveller.generation || just_stopped);
    }
    case Planned::Kind::piece_end: return event.generation == traveller.generation;
    }
    return false;
}

Due Simulation::next_planned() {
    while (!agenda_.empty() && !holds(agenda_.top())) agenda_.pop();
    return agenda_.empty() ? Due{} : agenda_.top().due;
}

void Simulation::happen(const Planned& event) {
    flow::Traveller& traveller = walkers_[event.player].traveller;
    switch (event.kind) {
    case Planned::Kind::crossing: {
        traveller.next_crossing = event.index + std::size_t{1};
        const flow::Crossing crossing = traveller.crossings[event.index];
        if (crossing.enters) {
            triggers_.enter(flow::PlayerId{event.player}, crossing.zone);
        } else {
            triggers_.leave(flow::PlayerId{event.player}, crossing.zone);
        }
        break;
    }
    case Planned::Kind::piece_end: piece_ended(event.player); break;
    case Planned::Kind::pause_end: walkers_[event.player].pausing = false; break;
    case Planned::Kind::patience: walkers_[event.player].impatient = true; break;
    case Planned::Kind::alarm: flow_.wake(event.index); break;
    case Planned::Kind::parcel: arrive_parcel(event.index); break;
    }
}

void Simulation::arrive_parcel(std::uint32_t number) {
    for (const loading::PieceId piece : parcels_[number].pieces) {
        loader_.deliver(piece);
        if (!catalogue_.is_level(piece)) continue;
        triggers_.delivered(catalogue_.level_of(piece));
    }
    log(EventKind::parcel_arrived, number);
}

/// Runs the first event that is due at `at`; false where none is left.
bool Simulation::run_next_event(Micros at) {
    const Due planned = next_planned();
    const Due loading = loader_.next();
    if (std::min(planned, loading).at != at) return false;
    if (planned < loading) {
        const Planned event = agenda_.top();
        agenda_.pop();
        happen(event);
    } else {
        loader_.run_next();
    }
    return true;
}

/// After each event: lists, triggers, near rules, routes, until nothing changes (section 3).
void Simulation::settle() {
    bool changed = true;
    while (changed && !endless_) {
        flow_.apply_level_events();
        changed = flow_.resume_ready();
        if (flow_.booted() && booting_) boot_ended();
        changed = triggers_.judge_triggers() || changed;
        changed = triggers_.judge_near() || changed;
        linger();
        // Who does not hurry waits until all that follows has followed.
        if (!changed || !route_.unhurried) changed = advance_routes() || changed;
        changed = changed || triggers_.to_judge();
        if (!flow_.ended()) continue;
        changed = launch_after_end();
    }
    account();
}

void Simulation::run_instant(Micros at) {
    loader_.set_now(at);
    const auto over = [&] { return endless_ || flow_.ended(); };
    bool again = true;
    while (again && !over()) {
        dispatched_ = false;
        while (!over() && run_next_event(at)) settle();
        if (over()) break;
        loader_.dispatch();
        dispatched_ = true;
        again = ask_routes_again() || std::min(next_planned(), loader_.next()).at == at;
    }
    if (!over() && loader_.frame_due() == at) loader_.start_frame();
    flow_.apply_level_events(); // what dispatch and the frame began is logged in its place
    account();
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) account_needs(player);
    look_at_rules();
    loader_.end_instant();
}

/// Nobody hurries, and nothing is left to happen: what still waits, waits in vain.
bool Simulation::drop_waiting() {
    if (!route_.unhurried || !flow_.drop_waiting()) return false;
    settle();
    run_instant(now());
    return true;
}

bool Simulation::routes_done() const {
    return std::all_of(walkers_.begin(), walkers_.end(), [&](const Walker& walker) {
        // Thawed on the way by the last step, an unhurried player goes on to where it was going.
        const auto player = static_cast<PlayerNumber>(&walker - walkers_.data());
        const bool goes_on = route_.unhurried && walker.traveller.on_the_way() && !frozen(player);
        return walker.done() && !goes_on;
    });
}

Record Simulation::run() {
    const Micros limit = plan_.limits.walk;
    if (!parcels_.empty()) log(EventKind::parcel_arrived, 0);
    stand_at_start(route_.start.at);
    flow_.boot(route_.start.level, route_.start.loaded);
    settle();
    run_instant({});
    while (true) {
        take_standing();
        if (done()) break;
        const Micros at = next_instant();
        if (endless_) {
            record_.stuck.emplace().kind = StuckKind::endless;
            record_.stuck->since = now();
            record_.stuck->list = *endless_;
            break;
        }
        if (lose_patience() || (at == Micros::never() && drop_waiting())) continue;
        if (at == Micros::never()) {
            record_.stuck = why_stuck();
            break;
        }
        if (at > limit) {
            loader_.set_now(limit);
            record_.stuck = why_stuck();
            record_.stuck->out_of_time = true;
            record_.stuck->since = limit;
            break;
        }
        run_instant(at);
    }
    finish();
    return std::move(record_);
}

/// A stuck walk ends where its last step could no longer go on: what came after that is left out.
void Simulation::cut_off() {
    const Micros end = record_.end;
    const auto drop_after = [&](auto& all, auto time_of) {
        std::erase_if(all, [&](const auto& each) { return time_of(each) > end; });
    };
    const auto clip = [&](auto& all) {
        drop_after(all, [](const auto& each) { return each.from; });
        for (auto& each : all) each.to = std::min(each.to, end);
    };
    const auto at = [](const auto& each) { return each.at; };
    drop_after(record_.events, at);
    drop_after(record_.hitches, at);
    for (loading::Hitch& hitch : record_.hitches) {
        if (hitch.last() > end) hitch.frames = (end - hitch.at).count / hitch.every.count + 1;
    }
    drop_after(record_.memory, at);
    drop_after(record_.frames, at);
    clip(record_.spells);
    clip(record_.needed);
    clip(record_.gaps);
    clip(record_.breaches);
    clip(record_.holdings);
    clip(record_.overruns);
    for (loading::LoadRecord& load : record_.loads) {
        for (const loading::PieceTime& each : loading::piece_times) {
            auto& time = load.*each.time;
            if (time && *time > end) time.reset();
        }
    }
}

void Simulation::add_peak() {
    for (const loading::MemoryRow& row : record_.memory) {
        if (row.total <= record_.peak || row.at > record_.end) continue;
        record_.peak = row.total;
        record_.peak_at = row.at;
    }
    for (const loading::Holding& holding : record_.holdings) {
        const bool at_peak = holding.from <= record_.peak_at && record_.peak_at < holding.to;
        if (!at_peak || holding.size.count == 0) continue;
        record_.at_peak.push_back(holding);
        record_.at_peak.back().to = std::min(holding.to, record_.end);
    }
    std::stable_sort(record_.at_peak.begin(), record_.at_peak.end(),
                     [](const auto& one, const auto& other) { return one.size > other.size; });
}

void Simulation::add_shares() {
    std::erase_if(record_.spells, [](const Spell& spell) { return spell.from >= spell.to; });
    std::stable_sort(
        record_.spells.begin(), record_.spells.end(),
        [](const Spell& one, const Spell& other) { return one.player < other.player; });
    join_alike(record_.spells);
    record_.shares_of.resize(walkers_.size());
    for (const Spell& spell : record_.spells) {
        const Micros length = spell.to - spell.from;
        for (TimeShares* shares : {&record_.shares, &record_.shares_of[spell.player]}) {
            switch (spell.doing) {
            case Doing::moving: shares->moving += length; break;
            case Doing::pausing: shares->pausing += length; break;
            case Doing::veiled: shares->veiled += length; break;
            case Doing::stalled: shares->stalled += length; break;
            }
        }
    }
}

/// Once, when the routes are done.
void Simulation::take_standing() {
    if (stands_ && !record_.standing && !booting_ && routes_done()) record_.standing = standing();
}

void Simulation::finish() {
    if (stands_ && !record_.standing) record_.standing = standing();
    record_.routes_done = routes_done();
    if (stands_ && done()) record_.snapshot = snapshot();
    record_.end = record_.stuck ? record_.stuck->since : now();
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        const Walker& walker = walkers_[player];
        if (walker.traveller.going_since) came_to_rest(player);
        if (!walker.done() && walker.step_since <= record_.end)
            record_.steps.push_back({player, walker.step, walker.step_since, record_.end});
    }
    add_never_reached();
    for (Walker& walker : walkers_) {
        if (!walker.accounting) continue;
        walker.spell.to = std::max(walker.spell.from, record_.end);
        record_.spells.push_back(walker.spell);
    }
    if (const auto& saved = flow_.facts().saved())
        record_.saved = flow::kept_store(plan_, *saved, names_of_players(route_));
    for (const flow::Carried& each : carried_.all()) ++record_.carries[each];
    record_.loads = loader_.loads();
    record_.hitches = loader_.hitches();
    record_.frames = loader_.frames();
    record_.memory = loader_.ledger().rows();
    record_.holdings = loader_.ledger().holdings();
    record_.overruns = loader_.ledger().overruns();
    add_peak();
    cut_off();
    record_.events.push_back(
        {record_.end, record_.stuck ? EventKind::stuck : EventKind::ended, 0, 0});
    if (record_.stuck && (record_.stuck->out_of_time || endless_)) add_repeats();
    add_shares();
    add_frames(plan_, catalogue_, record_);
    add_outcomes(plan_, record_);
}

Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
            const Options& options) {
    Ground ground(plan);
    return walk(plan, route, device, options, ground);
}

Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
            const Options& options, Ground& ground) {
    Record record = Simulation{plan, route, device, options, ground}.run();
    record.findings = findings(plan, record);
    record.verdict = verdict_of(record.findings);
    return record;
}

} // namespace hestrel::walk
