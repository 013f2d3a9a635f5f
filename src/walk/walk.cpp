// A walk from its beginning to its end.

#include "walk/walk.hpp"

#include "walk/findings.hpp"
#include "walk/frames.hpp"
#include "walk/simulation.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::walk {

using plan::Micros;

namespace {

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

flow::Setup setup_for(const plan::Plan& plan, const plan::Route& route, const Options& options,
                      bool scripted) {
    flow::Setup setup = flow::setup_of(plan, route.start, names_of_players(route), options.saved);
    setup.edition = route.edition;
    setup.after_is_told = route.unhurried || scripted;
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

/// Each machine of the route; one for all players where they share it.
std::vector<MachineSetup> setups_of(const plan::Route& route,
                                    const std::vector<plan::DeviceId>& devices) {
    std::vector<MachineSetup> setups;
    if (devices.size() == 1) {
        MachineSetup all{plan::MachineId{0}, devices.front(), {}, false, {}};
        for (std::size_t i = 0; i < route.players.size(); ++i) all.players.emplace_back(i);
        return {all};
    }
    for (const plan::MachineId id : route.machines.ids()) {
        const plan::Machine& machine = route.machines[id];
        setups.push_back({id, devices[id.value], machine.delay, machine.headless, {}});
        for (const std::uint32_t player : machine.players)
            setups.back().players.emplace_back(player);
    }
    return setups;
}

} // namespace

Simulation::Simulation(const plan::Plan& plan, const Cast& cast, const Options& options,
                       Ground& ground, ScriptNow* script)
    : plan_(plan), route_(plan.routes[cast.route]), most_transitions_(options.most_transitions),
      stands_(options.stand), script_(script), tree_(plan::level_tree(plan.levels)),
      walkers_(walkers_of(route_)), machine_of_(walkers_.size()),
      flow_(plan, *this, setup_for(plan, route_, options, script != nullptr)), ground_(ground),
      triggers_(plan, ground.zones(), flow_, *this, kinds_of(route_)), runs_(plan.lists.size()),
      carried_(plan), shown_on_count_(plan.levels.size()) {
    for (MachineSetup& setup : setups_of(route_, cast.devices)) {
        machines_.push_back(
            std::make_unique<Machine>(plan, std::move(setup), flow_, walkers_, sequence_, ground));
        Machine& machine = *machines_.back();
        machine.record.route = cast.route;
        for (const flow::PlayerId player : machine.setup().players)
            machine_of_[player.value] = &machine;
    }
    for (const auto& machine : machines_) {
        machine->record.devices = cast.devices;
        machine->record.machine = several() ? machine->number() : plan::MachineId{};
        machine->joined = machine->keeps_game();
    }
    carried_.begin(flow_.facts());
    if (route_.unhurried) triggers_.forget_rearm();
    if (script_ != nullptr) let_pass(script_->begins);
    keeper().begin(now());
    if (options.delivery) hold_back_parcels();
}

void Simulation::hold_back_parcels() {
    const loading::Catalogue& catalogue = keeper().catalogue();
    parcels_ = deliveries(plan_, catalogue, route_.edition, keeper().setup().device);
    if (parcels_.empty()) return; // delivered whole
    std::vector<loading::PieceId> all;
    for (const loading::PieceId piece : catalogue.pieces.ids()) all.push_back(piece);
    keeper().loader.hold_back(all);
    for (const loading::PieceId piece : parcels_.front().pieces) keeper().loader.deliver(piece);
    for (std::size_t i = 1; i < parcels_.size(); ++i)
        plan_event(Planned::Kind::parcel, parcels_[i].at, 0, static_cast<std::uint32_t>(i));
}

void Simulation::begin() {
    if (!parcels_.empty()) log(EventKind::parcel_arrived, 0);
    stand_at_start(script_ != nullptr ? plan::WaypointId{} : route_.start.at);
    plan_early_cues();
    flow_.boot(route_.start.level, route_.start.loaded);
    for (const auto& machine : machines_) {
        if (machine->keeps_game()) continue;
        const Micros joins = route_.machines[machine->number()].joins;
        if (joins.count == 0)
            join_when_due(*machine);
        else
            plan_event(Planned::Kind::join, joins, machine->number().value, 0);
    }
    settle();
    run_instant(now());
}

/// Where it could not go on: why.
std::optional<Stuck> Simulation::why_it_stopped(Micros next) {
    if (endless_) {
        Stuck stuck;
        stuck.kind = StuckKind::endless;
        stuck.since = now();
        stuck.list = *endless_;
        return stuck;
    }
    if (next == Micros::never()) return why_stuck();
    const Micros limit = plan_.limits.walk;
    if (next <= limit || script_ != nullptr) return std::nullopt;
    let_pass(limit);
    Stuck stuck = why_stuck();
    stuck.out_of_time = true;
    stuck.since = limit;
    return stuck;
}

std::vector<Record> Simulation::run() {
    begin();
    while (true) {
        take_standing();
        if (done()) break;
        const Micros at = next_instant();
        if (!endless_ && (lose_patience() || (at == Micros::never() && drop_waiting()))) continue;
        stuck_ = why_it_stopped(at);
        if (stuck_) break;
        run_instant(at);
    }
    finish();
    std::vector<Record> records;
    for (const auto& machine : machines_) records.push_back(std::move(machine->record));
    return records;
}

/// A stuck walk ends where its last step could no longer go on: what came after that is left out.
void Simulation::cut_off(Record& record) {
    const Micros end = record.end;
    const auto drop_after = [&](auto& all, auto time_of) {
        std::erase_if(all, [&](const auto& each) { return time_of(each) > end; });
    };
    const auto clip = [&](auto& all) {
        drop_after(all, [](const auto& each) { return each.from; });
        for (auto& each : all) each.to = std::min(each.to, end);
    };
    const auto at = [](const auto& each) { return each.at; };
    drop_after(record.events, at);
    drop_after(record.hitches, at);
    for (loading::Hitch& hitch : record.hitches) {
        if (hitch.last() > end) hitch.frames = (end - hitch.at).count / hitch.every.count + 1;
    }
    drop_after(record.memory, at);
    drop_after(record.frames, at);
    clip(record.spells);
    clip(record.needed);
    clip(record.gaps);
    clip(record.veiled);
    clip(record.breaches);
    clip(record.holdings);
    clip(record.overruns);
    for (loading::LoadRecord& load : record.loads) {
        for (const loading::PieceTime& each : loading::piece_times) {
            auto& time = load.*each.time;
            if (time && *time > end) time.reset();
        }
    }
}

void Simulation::add_peak(Record& record) {
    for (const loading::MemoryRow& row : record.memory) {
        if (row.total <= record.peak || row.at > record.end) continue;
        record.peak = row.total;
        record.peak_at = row.at;
    }
    for (const loading::Holding& holding : record.holdings) {
        const bool at_peak = holding.from <= record.peak_at && record.peak_at < holding.to;
        if (!at_peak || holding.size.count == 0) continue;
        record.at_peak.push_back(holding);
        record.at_peak.back().to = std::min(holding.to, record.end);
    }
    std::stable_sort(record.at_peak.begin(), record.at_peak.end(),
                     [](const auto& one, const auto& other) { return one.size > other.size; });
}

void Simulation::add_shares(Record& record) const {
    std::erase_if(record.spells, [](const Spell& spell) { return spell.from >= spell.to; });
    std::stable_sort(
        record.spells.begin(), record.spells.end(),
        [](const Spell& one, const Spell& other) { return one.player < other.player; });
    join_alike(record.spells);
    record.shares_of.resize(walkers_.size());
    for (const Spell& spell : record.spells) {
        const Micros length = spell.to - spell.from;
        for (TimeShares* shares : {&record.shares, &record.shares_of[spell.player]}) {
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
    std::optional<Standing>& taken = keeper().record.standing;
    if (stands_ && !taken && keeper().booted && routes_done()) taken = standing();
}

void Simulation::finish() {
    Record& keepers = keeper().record;
    if (stands_ && !keepers.standing) keepers.standing = standing();
    if (stands_ && done()) keepers.snapshot = snapshot();
    if (stuck_) {
        Record& record = stuck_->machine ? machines_[stuck_->machine.value]->record : keepers;
        record.stuck = stuck_;
    }
    for (const auto& machine : machines_) {
        const Micros end = machine->over ? machine->over_since : now();
        machine->record.end = stuck_ ? std::min(end, stuck_->since) : end;
        machine->record.routes_done = routes_done();
        machine->record.joined = machine->joined;
        machine->record.session_ended = machine->over;
    }
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        const Walker& walker = walkers_[player];
        Record& record = machine_at(player).record;
        if (walker.traveller.going_since) came_to_rest(player);
        if (!walker.done() && walker.step_since <= record.end)
            record.steps.push_back({player, walker.step, walker.step_since, record.end});
    }
    add_never_reached();
    for (PlayerNumber player = 0; player < walkers_.size(); ++player) {
        Walker& walker = walkers_[player];
        Record& record = machine_at(player).record;
        if (!walker.accounting) continue;
        walker.spell.to = std::max(walker.spell.from, record.end);
        record.spells.push_back(walker.spell);
    }
    if (const auto& saved = flow_.facts().saved())
        keepers.saved = flow::kept_store(plan_, *saved, names_of_players(route_));
    for (const flow::Carried& each : carried_.all()) ++keepers.carries[each];
    for (const auto& machine : machines_) finish(*machine);
}

void Simulation::finish(Machine& machine) {
    Record& record = machine.record;
    machine.take_record();
    add_peak(record);
    cut_off(record);
    record.events.push_back({record.end, record.stuck ? EventKind::stuck : EventKind::ended, 0, 0});
    if (record.stuck && (record.stuck->out_of_time || endless_)) add_repeats(record);
    add_shares(record);
    add_frames(plan_, machine.catalogue(), record);
    add_outcomes(plan_, record);
}

std::vector<Record> walk(const plan::Plan& plan, const Cast& cast, const Options& options,
                         Ground& ground) {
    std::vector<Record> records = Simulation{plan, cast, options, ground}.run();
    for (Record& record : records) {
        record.findings = findings(plan, record);
        record.verdict = verdict_of(record.findings);
    }
    return records;
}

Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
            const Options& options) {
    Ground ground(plan);
    return walk(plan, route, device, options, ground);
}

Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device,
            const Options& options, Ground& ground) {
    return std::move(walk(plan, Cast{route, {device}}, options, ground).front());
}

} // namespace hestrel::walk
