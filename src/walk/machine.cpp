#include "walk/machine.hpp"

#include "plan/lists.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::walk {

using flow::PlayerId;
using loading::ChangeKind;
using loading::Holder;
using plan::LevelId;
using plan::Micros;

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

} // namespace

/// What rules that ask about anything ask: this machine, and its players.
class Machine::World final : public flow::ConditionWorld {
public:
    explicit World(const Machine& machine) : machine_(machine) {}

    [[nodiscard]] std::int64_t fact_now(plan::FactId fact, PlayerId player) const override {
        return machine_.flow_->facts().value(fact, player);
    }
    [[nodiscard]] std::size_t players() const override { return machine_.walkers_->size(); }
    [[nodiscard]] const plan::Group& group(plan::GroupId group) const override {
        return machine_.plan_.groups[group];
    }
    [[nodiscard]] bool shown_now(LevelId level) const override {
        return machine_.loader.shown(level);
    }
    [[nodiscard]] bool ready_now(LevelId level) const override {
        return machine_.loader.loaded(level);
    }
    [[nodiscard]] bool delivered_now(LevelId level) const override {
        return machine_.delivered(level);
    }
    [[nodiscard]] bool queued_now(LevelId level) const override {
        return machine_.loader.condition(level) == loading::LevelCondition::queued;
    }
    [[nodiscard]] double memory_now(PlayerId) const override {
        return plan::in_mebibytes(machine_.loader.ledger().total());
    }
    [[nodiscard]] bool veiled_now() const override { return machine_.veils_.any(); }
    [[nodiscard]] double speed_now(PlayerId player) const override {
        return player ? walker(player).traveller.speed_now() : 0;
    }
    [[nodiscard]] bool at_now(plan::WaypointId waypoint, PlayerId player) const override {
        return of_any(player, [&](PlayerId each) { return walker(each).traveller.at == waypoint; });
    }
    [[nodiscard]] bool inside_now(plan::TriggerId trigger, PlayerId player) const override {
        return of_any(player, [&](PlayerId each) {
            return walker(each).inside.contains(flow::ZoneId{trigger.value});
        });
    }
    [[nodiscard]] bool inside_now(LevelId level, PlayerId player) const override {
        return of_any(player, [&](PlayerId each) { return walker(each).stands_in(level); });
    }
    [[nodiscard]] bool open_now(plan::MenuId menu, PlayerId player) const override {
        return of_any(player, [&](PlayerId each) { return machine_.menu_open(menu, each); });
    }
    [[nodiscard]] bool frozen_now(PlayerId player) const override {
        return of_any(player, [&](PlayerId each) { return machine_.frozen(each.value); });
    }

private:
    [[nodiscard]] const Walker& walker(PlayerId player) const {
        return (*machine_.walkers_)[player.value];
    }
    [[nodiscard]] bool of_any(PlayerId player, const auto& holds) const {
        if (player) return holds(player);
        const auto& own = machine_.setup_.players;
        return std::any_of(own.begin(), own.end(), holds);
    }
    const Machine& machine_;
};

Machine::Machine(const plan::Plan& plan, MachineSetup setup, flow::Flow& flow,
                 const std::vector<Walker>& walkers, loading::Sequence& sequence,
                 const Ground& ground)
    : plan_(plan), setup_(std::move(setup)), flow_(&flow), walkers_(&walkers),
      catalogue_(setup_.headless ? loading::headless_catalogue(plan, setup_.device)
                                 : loading::catalogue_for(plan, setup_.device)),
      loader(catalogue_, sequence), near(plan, ground.zones(), flow, *this, setup_.players),
      known(near_keeper() ? 0 : plan.levels.size()), veils_(plan, walkers.size()),
      frozen_(walkers.size()), rules_(plan, *this), breaches_(plan.rules.size(), 0) {
    record.machine = setup_.number;
    record.device = setup_.device;
}

bool Machine::has(PlayerId player) const {
    return plan::contains(setup_.players, player);
}

bool Machine::delivered(LevelId level) const {
    bool all = true;
    catalogue_.for_pieces(level,
                          [&](loading::PieceId piece) { all = all && loader.delivered(piece); });
    return all;
}

/// Those of its players whom something is about; unset: all of them.
void Machine::for_own(PlayerId who, const auto& each) const {
    for (const PlayerId player : setup_.players) {
        if (!who || who == player) each(player);
    }
}

// --- its life ----------------------------------------------------------------

void Machine::begin(Micros now) {
    if (boots) return;
    boots = true;
    boots_since = now;
    std::vector<plan::PlayerKindId> kinds;
    for (const PlayerId player : setup_.players)
        kinds.push_back((*walkers_)[player.value].route->kind);
    loader.ledger().take(now, Holder::players, 0, loading::players_memory(plan_, kinds));
}

void Machine::learn_levels(const loading::Levels& keepers) {
    boot_waits = false;
    end_switch();
    std::vector<loading::AttachTurn> asked; // in that order
    for (const LevelId level : keepers.asked()) asked.push_back(keepers[level].turn);
    std::sort(asked.begin(), asked.end(),
              [](const auto& one, const auto& other) { return one.asked < other.asked; });
    unload_others([&](LevelId level) { return keepers[level].asked; });
    for (const loading::AttachTurn& turn : asked) {
        if (keepers[turn.level].wanted) {
            loader.show(turn.level, turn.priority, 0);
        } else {
            loader.ask(turn.level, turn.priority, 0);
        }
    }
    // What came along, and is not there.
    unload_others([&](LevelId level) { return keepers[level].asked; });
    boot_levels.clear();
    for (const loading::AttachTurn& turn : asked) {
        const bool wanted = keepers[turn.level].wanted;
        if (!wanted && is_wanted(turn.level)) loader.hide(turn.level);
        const LevelId parent = catalogue_.tree[turn.level].parent;
        const bool comes_along = parent && plan_.levels[turn.level].with_parent;
        if (wanted || !comes_along) boot_levels.push_back(turn.level);
    }
}

void Machine::learn_game(const std::set<flow::OpenMenu>& open) {
    const flow::Veils& veils = flow_->veils();
    for (const plan::VeilId veil : plan_.veils.ids()) {
        if (setup_.players.empty()) {
            change_veil(veil, {}, veils.up(veil));
            continue;
        }
        for (const PlayerId player : setup_.players)
            change_veil(veil, player, veils.hides(veil, player));
    }
    for (const PlayerId player : setup_.players) frozen_[player.value] = flow_->frozen(player);
    menus_.clear();
    for (const flow::OpenMenu& each : open) change_menu(each.first, each.second, true);
}

std::vector<LevelId> Machine::boot_lacks() const {
    std::vector<LevelId> lacking;
    for (const LevelId level : boot_levels) {
        const loading::LevelNow& now = loader.levels()[level];
        if (now.asked && !(now.wanted ? now.shown : now.loaded)) lacking.push_back(level);
    }
    return lacking;
}

bool Machine::boot_is_over() const {
    return boots && !booted && !boot_waits && boot_lacks().empty();
}

// --- what it is asked for ----------------------------------------------------

/// Remembers what a transition asks for that is not there yet.
void Machine::called(LevelId level, flow::RunId run, bool to_show) {
    Transition* by = transition(run);
    if (by == nullptr) return;
    for (const LevelId each : plan::asked_with(catalogue_.tree, level)) {
        if (to_show ? loader.shown(each) : loader.loaded(each)) continue;
        const auto known_call =
            std::find_if(by->called.begin(), by->called.end(),
                         [&](const Transition::Called& call) { return call.level == each; });
        if (known_call == by->called.end()) {
            by->called.push_back({each, to_show, record.events.size(), loader.now()});
        } else {
            known_call->to_show = known_call->to_show || to_show;
        }
    }
}

void Machine::ask(LevelId level, plan::Priority priority, flow::RunId run) {
    called(level, run, false);
    loader.ask(level, priority, run.value);
}

void Machine::show(LevelId level, plan::Priority priority, flow::RunId run) {
    called(level, run, true);
    loader.show(level, priority, run.value);
}

void Machine::unload_others(const std::function<bool(LevelId)>& stays) {
    const std::set<LevelId> there = loader.levels().asked();
    for (const LevelId level : there) {
        if (!stays(level)) loader.unload(level);
    }
}

void Machine::leave(const flow::Leaving& leaving) {
    const bool was_loaded = switch_ && switch_->target_was_loaded;
    std::vector<LevelId> leave;
    for (const LevelId level : loader.levels().asked()) {
        if (flow_->leaves(leaving, level, was_loaded)) leave.push_back(level);
    }
    loader.unload_now(leave);
}

void Machine::give_way_to(LevelId level, flow::RunId run) {
    for (const LevelId other : flow_->rivals_of(level)) {
        if (!is_asked(other)) continue;
        flow_->left(other, run);
        loader.unload(other);
    }
}

void Machine::change_veil(plan::VeilId veil, PlayerId who, bool up) {
    bool changed = false; // for the first, or the last
    const auto change = [&](PlayerId player) {
        if (has(player) && veils_.hides(veil, player) != up) note_veil(veil, player, up);
        const bool now = up ? veils_.raise(veil, player, loader.now()) : veils_.take(veil, player);
        changed = changed || now;
    };
    for_own(who, change);
    if (!who && setup_.players.empty() && !setup_.headless) change(PlayerId{0}); // who looks on
    if (!changed) return;
    const std::vector<plan::Bytes> memory =
        loading::by_pool(plan_.pools.size(), plan_.veils[veil].memory);
    if (up) {
        loader.ledger().take(loader.now(), Holder::veil, veil.value, memory);
    } else {
        loader.ledger().give_back(loader.now(), Holder::veil, veil.value, memory);
    }
    loader.set_veiled(veils_.any());
    log(up ? EventKind::veil_up : EventKind::veil_down, veil.value);
}

void Machine::note_veil(plan::VeilId veil, PlayerId player, bool up) {
    if (up) {
        record.veiled.push_back({player.value, veil, loader.now()});
        return;
    }
    const auto open =
        std::find_if(record.veiled.rbegin(), record.veiled.rend(), [&](const Veiled& each) {
            return each.player == player.value && each.veil == veil;
        });
    open->to = loader.now();
}

bool Machine::freeze(PlayerId who, bool frozen) {
    bool any = false;
    for_own(who, [&](PlayerId player) {
        frozen_[player.value] = frozen;
        any = true;
    });
    if (any) log(frozen ? EventKind::frozen : EventKind::thawed, who.value);
    return any;
}

void Machine::change_menu(plan::MenuId menu, PlayerId who, bool open) {
    if (setup_.players.empty() || (who && !has(who))) return;
    const bool was_open = who ? menu_open(menu, who) : menus_.contains({menu, who});
    bool changed = open && !was_open;
    if (open) {
        if (!who) {
            for_own({}, [&](PlayerId player) { menus_.erase({menu, player}); });
        }
        menus_.insert({menu, who});
    } else if (!who) {
        changed = std::erase_if(menus_,
                                [&](const flow::OpenMenu& each) { return each.first == menu; }) > 0;
    } else if (menus_.erase({menu, who}) > 0) {
        changed = true;
    } else if (menus_.erase({menu, PlayerId{}}) > 0) {
        changed = true;
        // It stays open for each of the others.
        for_own({}, [&](PlayerId player) {
            if (player != who) menus_.insert({menu, player});
        });
    }
    if (changed) log(open ? EventKind::menu_opened : EventKind::menu_closed, menu.value, who.value);
}

void Machine::close_here(plan::MenuId menu, PlayerId player) {
    const bool only_there = menus_.contains({menu, player});
    change_menu(menu, only_there ? player : PlayerId{}, false);
}

void Machine::begin_switch(LevelId to, const std::vector<LevelId>& family, flow::RunId run) {
    switch_ = SwitchHere{to, run, family, loader.loaded(to), false};
    if (keeps_game()) return; // it knows
    boot_waits = boot_waits || !booted;
    log(EventKind::switch_began, to.value, run.value);
}

void Machine::end_switch() {
    if (switch_ && !keeps_game())
        log(EventKind::switch_ended, switch_->to.value, switch_->run.value);
    switch_.reset();
}

// --- near rules --------------------------------------------------------------

flow::RunId Machine::begin_near(LevelId level, bool went_far) {
    const flow::RunId run = flow_->number_transition();
    Transition& begun = begin_transition(run);
    begun.near = level;
    begun.reached = loader.now();
    begun.went_far = went_far;
    begun.ended = loader.now();
    log(went_far ? EventKind::went_far : EventKind::came_near, level.value, run.value);
    return run;
}

void Machine::raise_near(LevelId level) {
    const std::vector<LevelId> levels = plan::asked_with(catalogue_.tree, level);
    const bool sooner = std::any_of(levels.begin(), levels.end(), [&](LevelId each) {
        const loading::LevelNow& now = loader.levels()[each];
        return now.asked && !now.shown && now.turn.priority > plan::Priority::soon;
    });
    loader.raise(level, plan::Priority::soon);
    if (sooner && is_wanted(level)) log(EventKind::came_near, level.value, flow::RunId{}.value);
}

void Machine::come_near(LevelId level) {
    const flow::RunId run = begin_near(level, false);
    show(level, plan::Priority::soon, run);
    give_way_to(level, run);
}

void Machine::near_refused(LevelId level) {
    log(EventKind::variant_refused, level.value, flow::RunId{}.value);
}

void Machine::go_far(LevelId level) {
    flow_->left(level, begin_near(level, true));
    loader.unload(level);
}

// --- rules -------------------------------------------------------------------

bool Machine::rule_holds(plan::ConditionId condition) const {
    return flow::holds(plan_.conditions[condition], World(*this), {});
}

std::vector<std::uint32_t> Machine::rule_met(plan::ConditionId condition) const {
    return flow::met(plan_.conditions[condition], World(*this), {});
}

/// Opens and closes stretches in which rules are broken, once an instant has run.
void Machine::look_at_rules(bool settled) {
    for (const plan::RuleId rule : plan_.rules.ids()) {
        std::size_t& open = breaches_[rule];
        const bool broken = rules_.broken(rule, settled);
        if (broken && open == 0) {
            record.breaches.push_back({rules_.breach(rule), loader.now(), Micros::never()});
            open = record.breaches.size();
        } else if (!broken && open > 0) {
            record.breaches[open - 1].to = loader.now();
            open = 0;
        }
    }
}

void Machine::close_breaches() {
    for (std::size_t& open : breaches_) {
        if (open > 0) record.breaches[open - 1].to = loader.now();
        open = 0;
    }
}

// --- its record --------------------------------------------------------------

std::vector<loading::LevelEvent> Machine::take_changes() {
    std::vector<loading::LevelEvent> events;
    for (const loading::Change& change : loader.take_changes()) {
        record.events.push_back({change.at, event_of(change.kind), change.index, 0, {}});
        const auto what = level_change_of(change.kind);
        if (!what) continue;
        if (*what == flow::LevelChange::shown || *what == flow::LevelChange::hidden)
            rules_.levels_changed();
        events.push_back({LevelId{change.index}, *what});
    }
    return events;
}

Transition* Machine::transition(flow::RunId run) {
    if (run.value == 0 || run.value > record.transitions.size()) return nullptr;
    return &record.transitions[run.value - 1];
}

/// Those that began only on other machines are passed over.
Transition& Machine::begin_transition(flow::RunId run) {
    while (record.transitions.size() < run.value) {
        Transition& begun = record.transitions.emplace_back();
        begun.number = static_cast<std::uint32_t>(record.transitions.size());
        begun.fired = loader.now();
        begun.elsewhere = begun.number < run.value;
        if (begun.elsewhere) begun.ended = begun.fired;
    }
    Transition& begun = record.transitions.back();
    for (const Walker& walker : *walkers_)
        begun.metres.push_back(walker.traveller.metres(loader.now()));
    return begun;
}

void Machine::reached_by(flow::RunId run) {
    Transition* by = transition(run);
    if (by != nullptr && !by->reached) by->reached = loader.now();
}

void Machine::take_record() {
    record.loads = loader.loads();
    record.hitches = loader.hitches();
    record.frames = loader.frames();
    record.memory = loader.ledger().rows();
    record.holdings = loader.ledger().holdings();
    record.overruns = loader.ledger().overruns();
}

} // namespace hestrel::walk
