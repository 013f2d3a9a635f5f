#include "walk/walk.hpp"

#include "flow/flow.hpp"
#include "walk/agenda.hpp"
#include "walk/traveller.hpp"

#include <algorithm>
#include <utility>

namespace hestrel::walk {

namespace {

using loading::ChangeKind;
using loading::Due;
using loading::Holder;
using plan::Bytes;
using plan::LevelId;
using plan::Micros;
using plan::TriggerId;

constexpr std::uint32_t none = plan::LevelId::no_value;

EventKind event_of(ChangeKind kind) {
    switch (kind) {
    case ChangeKind::piece_queued: return EventKind::piece_queued;
    case ChangeKind::piece_reading: return EventKind::piece_reading;
    case ChangeKind::piece_unpacking: return EventKind::piece_unpacking;
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

std::vector<Bytes> by_pool(const plan::Plan& plan,
                           const std::vector<std::pair<plan::PoolId, Bytes>>& memory) {
    std::vector<Bytes> pools(plan.pools.size());
    for (const auto& [pool, size] : memory) pools[pool.value] = size;
    return pools;
}

/// One walk under way: the clock, the player, and the stage that flow plays on.
class Walk final : public flow::Stage {
public:
    Walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device)
        : plan_(plan), route_(plan.routes[route]), walker_(route_.players.front()),
          catalogue_(loading::catalogue_for(plan, device)), loader_(catalogue_, sequence_),
          flow_(plan, *this), map_(plan), ways_(plan), triggers_of_(plan.levels.size()) {
        record_.route = route;
        record_.device = device;
        for (const TriggerId id : plan.triggers.ids()) {
            if (plan.triggers[id].in) triggers_of_[plan.triggers[id].in].push_back(id);
        }
        if (walker_.kind) {
            const auto& memory = plan.players[walker_.kind].memory;
            if (!memory.empty())
                loader_.ledger().take({}, Holder::players, 0, by_pool(plan, memory));
        }
    }

    Record run();

    // flow::Stage
    void ask(LevelId level, plan::Priority priority, flow::RunId run) override {
        loader_.ask(level, priority, run.value);
    }
    void show(LevelId level, plan::Priority priority, flow::RunId run) override {
        loader_.show(level, priority, run.value);
    }
    void hide(LevelId level) override { loader_.hide(level); }
    void unload(LevelId level) override { loader_.unload(level); }
    void unload_now(std::span<const LevelId> leaving, std::span<const LevelId> family) override {
        loader_.unload_now(leaving, family);
    }
    void block_for(std::span<const LevelId> family) override { loader_.block_for(family); }
    [[nodiscard]] bool shown(LevelId level) const override { return loader_.shown(level); }
    [[nodiscard]] bool loaded(LevelId level) const override { return loader_.loaded(level); }
    [[nodiscard]] const std::set<LevelId>& asked_levels() const override {
        return loader_.asked_levels();
    }
    std::vector<flow::LevelEvent> take_level_events() override;
    [[nodiscard]] Micros now() const override { return loader_.now(); }
    void wake_after(Micros delay, flow::RunId run, std::uint32_t alarm) override {
        agenda_.push({{now() + delay, sequence_.next()}, Planned::Kind::alarm, 0, 0, alarm, run});
    }
    void veil_changed(plan::VeilId veil, bool up) override;
    void freeze_changed(bool frozen) override;
    void place_players(plan::WaypointId at) override;
    void became_live(LevelId level) override;
    void menu_changed(plan::MenuId menu, bool open) override {
        log(open ? EventKind::menu_opened : EventKind::menu_closed, menu.value);
    }
    void note(const flow::Note& note) override;

private:
    void log(EventKind kind, std::uint32_t subject = 0, std::uint32_t detail = 0) {
        record_.events.push_back({now(), kind, subject, detail});
    }

    // The clock.
    void plan_event(Planned::Kind kind, Micros at, std::uint32_t index);
    [[nodiscard]] bool holds(const Planned& event) const;
    [[nodiscard]] Due next_planned();
    [[nodiscard]] Micros next_instant() {
        return std::min(next_planned().at, loader_.next_instant());
    }
    void run_instant(Micros at);
    bool run_next_event(Micros at);
    void happen(const Planned& event);
    void settle();

    // Triggers.
    void cross(const Crossing& crossing);
    void stand_inside(std::set<TriggerId> inside);
    bool judge_triggers();
    void fire(TriggerId trigger);

    // The route.
    bool advance_route();
    bool begin(const plan::RouteStep& step);
    void move();
    void stop_moving();
    void piece_ended();
    void arrive();
    [[nodiscard]] bool route_done() const { return step_ == walker_.steps.size(); }
    [[nodiscard]] bool done() const { return route_done() && flow_.idle() && loader_.idle(); }
    [[nodiscard]] Doing doing() const;
    void boot_ended();
    void account();
    [[nodiscard]] Stuck why_stuck() const;
    void finish();

    const plan::Plan& plan_;
    const plan::Route& route_;
    const plan::RoutePlayer& walker_;
    loading::Sequence sequence_;
    const loading::Catalogue catalogue_;
    loading::Loader loader_;
    flow::Flow flow_;
    TriggerMap map_;
    geometry::WayFinder ways_;
    plan::Table<LevelId, std::vector<TriggerId>> triggers_of_;
    Agenda agenda_;

    Traveller player_;
    std::size_t step_ = 0; ///< the route step that is next or under way
    bool step_begun_ = false;
    Micros step_since_; ///< when its turn came
    bool pausing_ = false;
    std::set<TriggerId>
        edges_;               ///< triggers that the player got into, or that became live around it
    bool accounting_ = false; ///< after the boot and before the end of the route
    Spell spell_;

    Record record_;
};

// --- flow::Stage
// -------------------------------------------------------------------------------------

std::vector<flow::LevelEvent> Walk::take_level_events() {
    std::vector<flow::LevelEvent> events;
    for (const loading::Change& change : loader_.take_changes()) {
        record_.events.push_back({change.at, event_of(change.kind), change.index, 0});
        if (const auto level = level_change_of(change.kind)) {
            events.push_back({LevelId{change.index}, *level});
        }
    }
    return events;
}

void Walk::veil_changed(plan::VeilId veil, bool up) {
    const std::vector<Bytes> memory = by_pool(plan_, plan_.veils[veil].memory);
    if (up) {
        loader_.ledger().take(now(), Holder::veil, veil.value, memory);
    } else {
        loader_.ledger().give_back(now(), Holder::veil, veil.value, memory);
    }
    loader_.set_veiled(flow_.veiled());
    log(up ? EventKind::veil_up : EventKind::veil_down, veil.value);
}

void Walk::freeze_changed(bool frozen) {
    log(frozen ? EventKind::frozen : EventKind::thawed);
    if (frozen) {
        stop_moving();
    } else if (player_.on_the_way()) {
        move();
    }
}

void Walk::place_players(plan::WaypointId at) {
    stop_moving();
    player_.stopped_at = Micros::never(); // it is not there any more
    const plan::WaypointId goal = player_.goal;
    player_.legs.clear();
    player_.goal = {};
    player_.at = at;
    log(EventKind::placed, 0, at ? at.value : none);
    stand_inside(triggers_at(plan_, map_, at));
    if (!goal) return;
    if (!at || !set_out(plan_, ways_, player_, goal, player_.speed)) {
        log(EventKind::go_dropped, 0, goal.value);
        ++step_;
        step_begun_ = false;
        step_since_ = now();
        return;
    }
    if (player_.legs.empty()) return; // there already; the route notices
    measure_piece(plan_, map_, player_);
    player_.at = {};
    if (!flow_.frozen()) move();
}

void Walk::became_live(LevelId level) {
    for (const TriggerId trigger : triggers_of_[level]) {
        if (player_.inside.contains(trigger)) edges_.insert(trigger);
    }
}

void Walk::note(const flow::Note& note) {
    const auto number = note.run.value;
    switch (note.kind) {
    case flow::NoteKind::started:
        record_.transitions.push_back({number, plan::ListId{note.detail}, now(), {}, false});
        return;
    case flow::NoteKind::ended: {
        Transition& transition = record_.transitions[number - 1];
        transition.ended = now();
        log(EventKind::list_ended, transition.list.value, number);
        return;
    }
    case flow::NoteKind::abandoned:
        record_.transitions[number - 1].abandoned = true;
        log(EventKind::list_abandoned, note.detail, number);
        return;
    case flow::NoteKind::gave_up_waiting:
        log(EventKind::gave_up_waiting, record_.transitions[number - 1].list.value, number);
        return;
    case flow::NoteKind::switch_began: log(EventKind::switch_began, note.detail, number); return;
    case flow::NoteKind::switch_ended: log(EventKind::switch_ended, note.detail, number); return;
    case flow::NoteKind::switch_refused:
        log(EventKind::switch_refused, note.detail, number);
        return;
    case flow::NoteKind::leave_refused: log(EventKind::leave_refused, note.detail, number); return;
    }
}

// --- triggers
// ----------------------------------------------------------------------------------------

void Walk::cross(const Crossing& crossing) {
    if (crossing.enters) {
        player_.inside.insert(crossing.trigger);
        log(EventKind::entered, crossing.trigger.value);
        edges_.insert(crossing.trigger);
    } else {
        player_.inside.erase(crossing.trigger);
        log(EventKind::left, crossing.trigger.value);
    }
}

void Walk::stand_inside(std::set<TriggerId> inside) {
    const std::set<TriggerId> before = std::exchange(player_.inside, std::move(inside));
    for (const TriggerId trigger : before) {
        if (!player_.inside.contains(trigger)) log(EventKind::left, trigger.value);
    }
    for (const TriggerId trigger : player_.inside) {
        if (before.contains(trigger)) continue;
        log(EventKind::entered, trigger.value);
        edges_.insert(trigger);
    }
}

bool Walk::judge_triggers() {
    if (!flow_.booted()) return false;
    bool any = false;
    for (auto next = edges_.begin(); next != edges_.end();) {
        const TriggerId trigger = *next;
        edges_.erase(next);
        const LevelId level = plan_.triggers[trigger].in;
        if (player_.inside.contains(trigger) && (!level || flow_.live(level))) {
            fire(trigger);
            any = true;
        }
        next = edges_.upper_bound(trigger);
    }
    return any;
}

void Walk::fire(TriggerId trigger) {
    const plan::ListId list = plan_.triggers[trigger].steps;
    if (flow_.running(list)) {
        log(EventKind::firing_lost, trigger.value);
        return;
    }
    log(EventKind::fired, trigger.value,
        static_cast<std::uint32_t>(record_.transitions.size() + 1));
    flow_.start(list);
}

// --- the route
// ---------------------------------------------------------------------------------------

bool Walk::advance_route() {
    if (!flow_.booted()) return false;
    bool any = false;
    while (!route_done() && begin(walker_.steps[step_])) {
        ++step_;
        step_begun_ = false;
        step_since_ = now();
        any = true;
    }
    return any;
}

/// Begins a route step where it can begin; true where it is over.
bool Walk::begin(const plan::RouteStep& step) {
    if (const auto* press = std::get_if<plan::PressStep>(&step.what)) {
        if (!flow_.menu_open(plan_.items[press->item].menu)) return false;
        log(EventKind::pressed, press->item.value,
            static_cast<std::uint32_t>(record_.transitions.size() + 1));
        flow_.press(press->item);
        return true;
    }
    if (const auto* pause = std::get_if<plan::PauseStep>(&step.what)) {
        if (step_begun_) return !pausing_;
        step_begun_ = true;
        pausing_ = true;
        plan_event(Planned::Kind::pause_end, now() + pause->time, 0);
        return false;
    }
    const auto& go = std::get<plan::GoStep>(step.what);
    if (step_begun_) {
        if (player_.at != go.to) return false;
        player_.goal = {};
        return true;
    }
    if (flow_.frozen() || !player_.at) return false;
    if (player_.at == go.to) return true;
    if (!set_out(plan_, ways_, player_, go.to, go.speed)) return false;
    step_begun_ = true;
    log(EventKind::set_out, 0, go.to.value);
    player_.at = {};
    measure_piece(plan_, map_, player_);
    move();
    return false;
}

void Walk::move() {
    player_.going_since = now();
    for (std::size_t i = player_.next_crossing; i < player_.crossings.size(); ++i) {
        plan_event(Planned::Kind::crossing, now() + player_.crossings[i].after - player_.walked,
                   static_cast<std::uint32_t>(i));
    }
    plan_event(Planned::Kind::piece_end, now() + player_.duration - player_.walked, 0);
}

void Walk::stop_moving() {
    if (!player_.going_since) return;
    player_.walked += now() - *player_.going_since;
    player_.going_since.reset();
    player_.stopped_at = now();
    ++player_.generation;
}

void Walk::piece_ended() {
    player_.going_since.reset();
    ++player_.generation;
    if (!next_piece(plan_, player_)) {
        arrive();
        return;
    }
    measure_piece(plan_, map_, player_);
    move();
}

void Walk::arrive() {
    player_.at = player_.goal;
    player_.legs.clear();
    log(EventKind::arrived, 0, player_.at.value);
}

// --- the clock
// ---------------------------------------------------------------------------------------

void Walk::plan_event(Planned::Kind kind, Micros at, std::uint32_t index) {
    agenda_.push({{at, sequence_.next()}, kind, 0, player_.generation, index, {}});
}

bool Walk::holds(const Planned& event) const {
    switch (event.kind) {
    case Planned::Kind::alarm: return flow_.awaits(event.run, event.index);
    case Planned::Kind::pause_end: return true;
    case Planned::Kind::crossing: {
        // What it gets into in the very instant in which it is stopped, it got into.
        const bool just_stopped =
            event.generation + 1 == player_.generation && player_.stopped_at == event.due.at;
        return event.index >= player_.next_crossing &&
               (event.generation == player_.generation || just_stopped);
    }
    case Planned::Kind::piece_end: return event.generation == player_.generation;
    }
    return false;
}

Due Walk::next_planned() {
    while (!agenda_.empty() && !holds(agenda_.top())) agenda_.pop();
    return agenda_.empty() ? Due{} : agenda_.top().due;
}

void Walk::happen(const Planned& event) {
    switch (event.kind) {
    case Planned::Kind::crossing:
        player_.next_crossing = event.index + std::size_t{1};
        cross(player_.crossings[event.index]);
        break;
    case Planned::Kind::piece_end: piece_ended(); break;
    case Planned::Kind::pause_end: pausing_ = false; break;
    case Planned::Kind::alarm: flow_.wake(event.run, event.index); break;
    }
}

/// Runs the first event that is due at `at`; false where none is left.
bool Walk::run_next_event(Micros at) {
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

/// After each event: lists, triggers, route, until nothing changes (section 3).
void Walk::settle() {
    bool changed = true;
    while (changed) {
        flow_.absorb();
        changed = flow_.go_on();
        if (flow_.booted() && !record_.boot) boot_ended();
        changed = judge_triggers() || changed;
        changed = advance_route() || changed;
    }
    account();
}

void Walk::run_instant(Micros at) {
    loader_.set_now(at);
    do {
        while (run_next_event(at)) settle();
        loader_.dispatch();
    } while (std::min(next_planned(), loader_.next()).at == at);
    if (loader_.frame_due() == at) loader_.start_frame();
    flow_.absorb(); // what dispatch and the frame began is logged in its place
    account();
    loader_.end_instant();
}

Record Walk::run() {
    const Micros limit = plan_.limits.walk;
    player_.at = route_.start_at;
    player_.inside = triggers_at(plan_, map_, player_.at);
    for (const TriggerId trigger : player_.inside) {
        if (!plan_.triggers[trigger].in) edges_.insert(trigger); // live from the end of the boot on
    }
    flow_.boot(route_.start_level);
    settle();
    run_instant({});
    for (Micros at = next_instant(); !done(); at = next_instant()) {
        if (at == Micros::never()) {
            record_.stuck = why_stuck();
            break;
        }
        if (at > limit) {
            record_.stuck.emplace().since = limit; // out_of_time
            break;
        }
        run_instant(at);
    }
    finish();
    return std::move(record_);
}

// --- what the player is doing
// ------------------------------------------------------------------------

Doing Walk::doing() const {
    if (player_.going_since) return Doing::moving;
    if (pausing_) return Doing::pausing;
    if (flow_.veiled()) return Doing::veiled;
    const bool waits_for_menu =
        !route_done() && std::holds_alternative<plan::PressStep>(walker_.steps[step_].what);
    if (waits_for_menu && flow_.idle() && loader_.idle()) return Doing::pausing;
    return Doing::stalled;
}

void Walk::boot_ended() {
    record_.boot = now();
    log(EventKind::boot_ended);
    step_since_ = now();
    accounting_ = true;
    spell_ = {0, doing(), now(), now()};
}

/// Closes the present spell where the player does something else now.
void Walk::account() {
    if (!accounting_) return;
    if (!route_done() && doing() == spell_.doing) return;
    spell_.to = now();
    if (spell_.to > spell_.from) record_.spells.push_back(spell_);
    spell_ = {0, doing(), now(), now()};
    accounting_ = !route_done();
}

// --- the end
// -----------------------------------------------------------------------------------------

Stuck Walk::why_stuck() const {
    Stuck stuck;
    if (!route_done()) stuck.since = step_since_;
    const std::vector<flow::Flow::Waiting> waiting = flow_.waiting();
    if (!waiting.empty()) {
        const auto& last = *std::max_element(
            waiting.begin(), waiting.end(),
            [](const auto& one, const auto& other) { return one.since < other.since; });
        stuck.kind = last.list ? StuckKind::list_waits : StuckKind::boot_waits;
        stuck.since = std::max(stuck.since, last.since);
        stuck.list = last.list;
        stuck.step = last.step;
        stuck.awaited = last.awaited;
        stuck.levels = last.missing;
        return stuck;
    }
    stuck.step = step_;
    stuck.nowhere = !player_.at;
    const bool pressing = std::holds_alternative<plan::PressStep>(walker_.steps[step_].what);
    stuck.kind = pressing ? StuckKind::cannot_press : StuckKind::cannot_go;
    if (!pressing && flow_.frozen()) stuck.kind = StuckKind::frozen;
    return stuck;
}

void Walk::finish() {
    if (record_.stuck) {
        log(EventKind::stuck);
        record_.end = record_.stuck->since;
    } else {
        log(EventKind::ended);
        record_.end = now();
    }
    if (accounting_) {
        spell_.to = std::max(spell_.from, record_.end);
        if (spell_.to > spell_.from) record_.spells.push_back(spell_);
    }
    for (const Spell& spell : record_.spells) {
        const Micros length = spell.to - spell.from;
        switch (spell.doing) {
        case Doing::moving: record_.shares.moving += length; break;
        case Doing::pausing: record_.shares.pausing += length; break;
        case Doing::veiled: record_.shares.veiled += length; break;
        case Doing::stalled: record_.shares.stalled += length; break;
        }
    }
    record_.loads = loader_.loads();
    record_.hitches = loader_.hitches();
    record_.memory = loader_.ledger().rows();
    record_.holdings = loader_.ledger().holdings();
    record_.overruns = loader_.ledger().overruns();
    for (const loading::MemoryRow& row : record_.memory) {
        if (row.total <= record_.peak) continue;
        record_.peak = row.total;
        record_.peak_at = row.at;
    }
    const Micros end = now();
    for (loading::Holding& holding : record_.holdings) {
        const bool at_peak = holding.from <= record_.peak_at && record_.peak_at < holding.to;
        holding.to = std::min(holding.to, end);
        if (at_peak && holding.size.count > 0) record_.at_peak.push_back(holding);
    }
    for (loading::Overrun& overrun : record_.overruns) overrun.to = std::min(overrun.to, end);
    std::stable_sort(record_.at_peak.begin(), record_.at_peak.end(),
                     [](const auto& one, const auto& other) { return one.size > other.size; });
}

} // namespace

Record walk(const plan::Plan& plan, plan::RouteId route, plan::DeviceId device) {
    return Walk{plan, route, device}.run();
}

} // namespace hestrel::walk
