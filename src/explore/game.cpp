#include "explore/game.hpp"

#include "plan/firers.hpp"
#include "plan/lists.hpp"
#include "plan/questions.hpp"

#include <algorithm>

namespace hestrel::explore {

using flow::LevelChange;
using flow::PlayerId;
using plan::LevelId;
using plan::Micros;
using plan::Priority;

namespace {

flow::Setup setup_for(flow::Setup setup, plan::EditionId edition, std::size_t players, Pace pace) {
    setup.players = players;
    setup.edition = edition;
    setup.after_is_told = true;
    setup.waits_for_ever = pace == Pace::unhurried;
    setup.forgets_firers = true;
    setup.veils_just_raised = pace == Pace::hurried;
    return setup;
}

bool asks_for_speed(const plan::Plan& plan, plan::ConditionId condition) {
    return condition && plan.conditions[condition].asks({plan::Operation::speed});
}

std::vector<PlayerId> all_of(const std::vector<plan::PlayerKindId>& kinds) {
    std::vector<PlayerId> players;
    for (std::size_t i = 0; i < kinds.size(); ++i) players.emplace_back(i);
    return players;
}

} // namespace

Game::Game(const plan::Plan& plan, plan::EditionId edition, std::vector<plan::PlayerKindId> players,
           Pace pace, Reduction reduction, flow::Setup begins)
    : plan_(&plan), pace_(pace), tree_(plan::level_tree(plan.levels)),
      reduction_(std::move(reduction)),
      flow_(plan, *this, setup_for(std::move(begins), edition, players.size(), pace)),
      zones_(plan, [this](LevelId level) { return reduction_.near.has(level); }),
      kinds_(std::move(players)), asked_zones_(kinds_.size(), zones_.size()),
      near_(plan, zones_, flow_, *this, all_of(kinds_), &asked_zones_),
      triggers_(plan, zones_, flow_, *this, kinds_, &near_, &asked_zones_), rules_(plan, *this),
      touched_(tree_), levels_(tree_, asked_order_, *this, &touched_), travellers_(kinds_.size()),
      placed_(kinds_.size()), asked_where_(kinds_.size()), carried_(plan) {
    frames_cost_ = plan::has_frame_costs(plan);
    for (const plan::Trigger& trigger : plan.triggers)
        by_player_.push(plan::goes_by_firer(plan, trigger.steps, pace == Pace::unhurried) ||
                        plan::asks_about_one(plan, trigger.when, true) ||
                        asks_for_speed(plan, trigger.when));
    triggers_.forget_rearm();
    carried_.begin(flow_.facts());
}

// --- levels ------------------------------------------------------------------

void Game::ask(LevelId level, Priority priority, flow::By) {
    levels_.ask(level, priority, 0);
}

void Game::show(LevelId level, Priority priority, flow::By) {
    levels_.show(level, priority, 0);
}

void Game::unload_others(const std::function<bool(LevelId)>& stays, flow::By) {
    const std::set<LevelId> there = asked_levels();
    for (const LevelId level : there) {
        if (!stays(level)) levels_.unload(level);
    }
}

void Game::leave(const flow::Leaving& leaving) {
    std::vector<LevelId> leave;
    for (const LevelId level : asked_levels()) {
        if (flow_.leaves(leaving, level, leaving.was_loaded)) leave.push_back(level);
    }
    for (const LevelId level : leave) levels_.unload(level);
    leaving_.clear();
    remember(MoveLog::Memory::Kind::released, static_cast<std::uint32_t>(log_.families.size()));
    log_.families.push_back(kept_);
}

void Game::asked_for(LevelId level, std::uint32_t) {
    leaving_.erase(level);
    arriving_.insert({levels_[level].turn.priority, levels_[level].turn.asked, level});
    log_.asked.push_back(level);
    remember(MoveLog::Memory::Kind::asked, level.value);
}

void Game::raised(const loading::LevelNow& level, Priority before) {
    const loading::AttachTurn& turn = level.turn;
    if (arriving_.erase({before, turn.asked, turn.level}) > 0)
        arriving_.insert({turn.priority, turn.asked, turn.level});
}

void Game::let_go(const loading::LevelNow& before) {
    const LevelId level = before.turn.level;
    arriving_.erase({before.turn.priority, before.turn.asked, level});
    // What had not come is dropped, and absent at once.
    const bool had_time = !reduction_.tells_coming(level) && !plan::contains(log_.asked, level);
    if (pace_ == Pace::hurried && (before.arrived || had_time)) leaving_.insert(level);
    log_.unloaded.push_back(level);
    remember(MoveLog::Memory::Kind::unloaded, level.value);
}

void Game::changed(loading::LevelEvent event) {
    if (event.change == LevelChange::shown) log_.shown.push_back(event.level);
    if (event.change == LevelChange::shown || event.change == LevelChange::hidden)
        note_shown(event.level, event.change == LevelChange::shown);
    frames_changed_ = true;
    rules_.levels_changed();
    events_.push_back({event.level, event.change});
}

void Game::note_shown(LevelId level, bool shown) {
    const auto [known, fresh] = shown_since_.try_emplace(level, shown);
    if (!fresh && known->second != shown) shown_since_.erase(known); // as it was
}

std::vector<flow::LevelEvent> Game::take_level_events() {
    for (const flow::LevelEvent& event : events_) triggers_.level_changed(event);
    return std::exchange(events_, {});
}

flow::RunId Game::begin_near(LevelId level) {
    const flow::RunId run = flow_.number_transition();
    near_runs_.emplace_back(run, level);
    return run;
}

/// Of a level that is left out only what is above it comes.
bool Game::can_come(LevelId level) const {
    if (!reduction_.near.has(level)) return true;
    const LevelId above = plan_->levels[level].parent;
    return above && !look(above).wanted;
}

void Game::come_near(LevelId level) {
    flow_.show(reduction_.near.has(level) ? plan_->levels[level].parent : level, Priority::soon,
               {begin_near(level)});
}

void Game::near_refused(LevelId level) {
    note({flow::EventKind::variant_refused, {}, level.value});
}

void Game::go_far(LevelId level) {
    flow_.unload(level, {begin_near(level)});
}

// --- the rest of the stage ---------------------------------------------------

void Game::wake_after(Micros delay, std::uint32_t alarm) {
    alarms_.push({now_ + delay, alarm});
}

double Game::speed_of(PlayerId player) const {
    const OnFoot& traveller = travellers_[player.value];
    if (!traveller.moving) return 0;
    asked_for_speed_ = true;
    return traveller.piece_speed;
}

bool Game::stands_at(PlayerId player, plan::WaypointId waypoint) const {
    asked_where_[player.value] = true;
    return travellers_[player.value].at == waypoint;
}

bool Game::is_inside(PlayerId player, plan::TriggerId trigger) const {
    asked_where_[player.value] = true;
    return triggers_.is_inside(player, trigger);
}

bool Game::is_inside(PlayerId player, LevelId level) const {
    asked_where_[player.value] = true;
    return triggers_.is_inside(player, level);
}

void Game::place(PlayerId who, plan::WaypointId at, flow::RunId) {
    for (std::uint32_t number = 0; number < travellers_.size(); ++number) {
        if (who && who.value != number) continue;
        OnFoot& traveller = travellers_[number];
        if (traveller.moving) triggers_.movement_changed();
        traveller = {};
        traveller.at = at;
        placed_[number] = true;
        stand_inside(PlayerId{number}, at);
    }
    near_.rejudge();
}

std::size_t Game::pick(PlayerId player, const plan::ChooseStep& choose) {
    const std::size_t number = choices_.size();
    choices_.push_back(choose.branches.size());
    const std::size_t branch = number < picks_.size() ? picks_[number] : 0;
    log_.taken.push_back({&choose, branch, player});
    return branch;
}

void Game::veil_changed(plan::VeilId veil, bool up) {
    remember(up ? MoveLog::Memory::Kind::veil_up : MoveLog::Memory::Kind::veil_down, veil.value);
    frames_changed_ = true;
    triggers_.veils_changed();
}

void Game::note(const flow::Event& note) {
    carried_.note(note, cause_of(note.run), flow_.facts());
    if (note.kind == flow::EventKind::started) {
        const plan::ListId list{note.detail};
        list_of_run_.resize(note.run.value - first_run_ + 1);
        list_of_run_[note.run.value - first_run_] = list;
        log_.lists.push_back(list);
        return;
    }
    if (note.kind == flow::EventKind::waits) {
        began_to_wait_ = true;
        return;
    }
    log_.notes.push_back({note.kind, list_of(note.run), note.detail, note.place});
}

plan::ListId Game::list_of(flow::RunId run) const {
    if (!run || run.value < first_run_ || run.value - first_run_ >= list_of_run_.size()) return {};
    return list_of_run_[run.value - first_run_];
}

flow::CarryCause Game::cause_of(flow::RunId run) const {
    const auto near = std::find_if(near_runs_.begin(), near_runs_.end(),
                                   [&](const auto& each) { return each.first == run; });
    return {list_of(run), near == near_runs_.end() ? LevelId{} : near->second};
}

// --- who comes first ------------------------------------------------------

bool Game::order_matters(plan::TriggerId trigger, const std::vector<PlayerId>& players) const {
    return by_player_[trigger] && any_differ(players);
}

/// Whether any of several players of one kind could not stand for another just now.
bool Game::any_differ(const std::vector<PlayerId>& players) const {
    for (std::size_t one = 0; one < players.size(); ++one) {
        for (std::size_t other = one + 1; other < players.size(); ++other) {
            const bool of_one_kind = kinds_[players[one].value] == kinds_[players[other].value];
            if (of_one_kind && !alike(players[one], players[other])) return true;
        }
    }
    return false;
}

/// What is asked about them, is asked about where they are, and what they have of their own.
bool Game::alike(PlayerId one, PlayerId other) const {
    bool facts = true;
    for (const plan::FactId fact : plan_->facts.ids()) {
        if (plan_->facts[fact].of_each)
            facts = flow_.facts().value(fact, one) == flow_.facts().value(fact, other) && facts;
    }
    asked_where_[one.value] = asked_where_[other.value] = true;
    if (!facts || travellers_[one.value].moving != travellers_[other.value].moving ||
        player(one) != player(other) || !triggers_.alike(one, other))
        return false;
    std::vector<PlayerId> exchanged;
    for (std::uint32_t number = 0; number < travellers_.size(); ++number)
        exchanged.emplace_back(number);
    std::swap(exchanged[one.value], exchanged[other.value]);
    const flow::State state = flow_.state();
    return renamed(state, exchanged) == state;
}

// --- from situation to situation ---------------------------------------------

void Game::resume(const std::vector<LevelThere>& levels, const flow::State& settled) {
    levels_.clear();
    leaving_.clear();
    arriving_.clear();
    events_.clear();
    alarms_ = {};
    now_ = {};
    moment_ = {};
    asked_order_ = {};
    restore(levels_, levels, settled);
    rules_.levels_changed();
    began_to_wait_ = false;
    frames_changed_ = false;
    shown_since_.clear();
    for (const LevelThere& there : levels) {
        if (there.leaving) leaving_.insert(there.level);
        if (there.pending)
            arriving_.insert({Priority::soon, levels_[there.level].turn.asked, there.level});
    }
    booted_ = true;
    first_run_ = flow_.number_transition().value + 1;
    list_of_run_.clear();
    near_runs_.clear();
    awaited_.clear();
    for (const flow::RunState& running : settled.runs) {
        list_of_run_.push_back(running.list);
        awaited_.insert(awaited_.end(), running.levels.begin(), running.levels.end());
        for (const plan::GroupId group : running.any_of) {
            const std::vector<LevelId>& any_of = plan_->groups[group].levels;
            awaited_.insert(awaited_.end(), any_of.begin(), any_of.end());
        }
    }
    if (settled.switching) {
        const std::vector<LevelId>& family = settled.switching->family;
        awaited_.insert(awaited_.end(), family.begin(), family.end());
    }
    flow_.resume(settled);
    placed_.assign(placed_.size(), false);
    picks_.clear();
    choices_.clear();
    asked_for_speed_ = false;
    order_mattered_ = false;
    log_ = {};
}

void Game::resume(PlayerId player, const PlayerNow& now) {
    triggers_.resume(player, now.standing);
    OnFoot& traveller = travellers_[player.value];
    traveller = {};
    if (!now.on_the_way()) {
        traveller.at = now.at;
        return;
    }
    set_out_along(*plan_, traveller, now.leg, now.speed);
    traveller.corner = now.corner;
    measure_piece(*plan_, zones_, triggers_.inside(player), traveller);
    traveller.walked = now.walked;
    traveller.crossings = now.crossings;
    traveller.next_crossing = 0;
}

void Game::resumed() {
    triggers_.resume_judged();
    asked_zones_.forget();
    touched_.forget();
    for (const LevelId level : awaited_) touched_.note(level);
    carried_.begin(flow_.facts());
    triggers_.take_once_asked();
    asked_where_.assign(asked_where_.size(), false);
}

std::vector<LevelThere> Game::levels() const {
    std::vector<LevelThere> there;
    for (const LevelId level : levels_.asked()) {
        const loading::LevelNow& state = levels_[level];
        const bool blocked = state.blocked && pace_ == Pace::hurried;
        there.push_back({level, state.shown, state.wanted, !state.arrived, blocked, false});
    }
    for (const LevelId level : leaving_) there.push_back({level, false, false, false, false, true});
    std::sort(there.begin(), there.end());
    return there;
}

PlayerNow Game::player(PlayerId player) const {
    const OnFoot& traveller = travellers_[player.value];
    PlayerNow now;
    now.standing = triggers_.standing(player);
    if (!traveller.on_the_way()) {
        now.at = traveller.at;
        return now;
    }
    now.leg = traveller.legs[traveller.leg];
    now.speed = traveller.speed;
    now.corner = traveller.corner;
    now.walked = traveller.walked;
    now.crossings.assign(traveller.crossings.begin() +
                             static_cast<std::ptrdiff_t>(traveller.next_crossing),
                         traveller.crossings.end());
    return now;
}

} // namespace hestrel::explore
