#include "loading/loader.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace hestrel::loading {

using plan::LevelId;
using plan::Micros;
using plan::Priority;

Loader::Loader(const Catalogue& catalogue, Sequence& sequence)
    : catalogue_(&catalogue), sequence_(&sequence), pieces_(catalogue.pieces.size()),
      state_(catalogue.tree, sequence, *this), missing_(catalogue.levels.size()),
      attach_generation_(catalogue.levels.size()), transfers_(catalogue.read.rate),
      main_(catalogue.frame), ledger_(catalogue.memory, catalogue.pools) {}

// --- instructions ------------------------------------------------------------

void Loader::unload(LevelId level) {
    state_.unload(level);
    if (catalogue_->release.sweep.count == 0) release_leaving();
}

void Loader::keep(std::span<const LevelId> family) {
    kept_.clear();
    for (const LevelId level : family)
        catalogue_->for_pieces(level, [&](PieceId piece) { kept_.push_back(piece); });
    std::sort(kept_.begin(), kept_.end());
}

void Loader::unload_now(std::span<const LevelId> leaving) {
    for (const LevelId level : leaving) state_.unload(level);
    release_leaving();
}

void Loader::block_for(std::span<const LevelId> family) {
    blocked_since_ = now_;
    if (!catalogue_->headless) main_.block(now_);
    state_.block_for(family);
}

void Loader::hold_back(std::span<const PieceId> pieces) {
    for (const PieceId piece : pieces) pieces_[piece].held_back = true;
}

void Loader::deliver(PieceId piece) {
    const bool asked_for = held_back_.erase(waiting(piece)) > 0;
    pieces_[piece].held_back = false;
    if (asked_for) can_begin(piece);
}

void Loader::switch_off() {
    for (const LevelId level : state_.asked()) {
        if (state_[level].shown) report(ChangeKind::level_hidden, level.value);
        report(ChangeKind::level_unloaded, level.value);
    }
    state_.clear();
    for (const PieceId piece : pieces_.ids()) drop(piece);
    std::fill(missing_.begin(), missing_.end(), 0);
    queue_.clear();
    held_back_.clear();
    reads_ = 0;
    transfers_ = Transfers(catalogue_->read.rate);
    transfers_.advance(now_);
    unpack_queue_.clear();
    unpacking_ = 0;
    make_queue_.clear();
    making_ = 0;
    main_.switch_off(blocked_since_, now_);
    leaving_.clear();
    kept_.clear();
    sweep_at_ = Micros::never();
    events_ = {};
}

/// A piece is gone, whatever was being done with it.
void Loader::drop(PieceId piece) {
    PieceNow& state = pieces_[piece];
    const Piece& content = catalogue_->pieces[piece];
    if (is_staged(piece)) ledger_.unstage(now_, piece, content.packed);
    if (is_in_place(piece)) ledger_.give_back(now_, Holder::piece, piece.value, content.memory);
    if (state.state != PieceState::absent) {
        const bool there = has_come(state.state);
        report(there ? ChangeKind::piece_released : ChangeKind::piece_given_up, piece.value);
    }
    PieceNow gone;
    gone.held_back = state.held_back;
    state = std::move(gone);
}

// --- pieces of levels --------------------------------------------------------

void Loader::asked_for(LevelId level, std::uint32_t transition) {
    const AttachTurn& turn = state_[level].turn;
    catalogue_->for_pieces(level,
                           [&](PieceId piece) { request(piece, turn.priority, transition); });
    missing_[level] = 0;
    catalogue_->for_pieces(level, [&](PieceId piece) {
        ++pieces_[piece].needed_by;
        if (resident(piece)) return;
        ++missing_[level];
        pieces_[piece].waiters.emplace(turn.asked, level);
    });
    if (missing_[level] == 0) state_.arrived(level);
}

void Loader::raised(const LevelNow& level, Priority) {
    catalogue_->for_pieces(level.turn.level,
                           [&](PieceId piece) { raise(piece, level.turn.priority); });
}

void Loader::let_go(const LevelNow& before) {
    const AttachTurn& turn = before.turn;
    catalogue_->for_pieces(turn.level, [&](PieceId piece) {
        PieceNow& needed = pieces_[piece];
        needed.waiters.erase({turn.asked, turn.level});
        if (--needed.needed_by == 0) no_longer_needed(piece);
    });
}

void Loader::request(PieceId piece, Priority priority, std::uint32_t transition) {
    PieceNow& state = pieces_[piece];
    if (is_untouched(piece)) raise(piece, priority);
    if (state.state == PieceState::unmade) {
        // It was leaving, and is taken back: only its making is still to be done.
        state.priority = priority;
        wait(piece, PieceState::to_make, state.turn);
        return;
    }
    if (state.state != PieceState::absent) return;
    state.priority = priority;
    state.record = loads_.size();
    LoadRecord record;
    record.transition = transition;
    record.piece = piece;
    record.priority = priority;
    record.asked = now_;
    loads_.push_back(record);
    wait(piece, PieceState::queued, sequence_->next());
    if (!state.held_back) can_begin(piece);
}

/// A piece that is queued waits for a read, or for a maker where it is not read.
void Loader::can_begin(PieceId piece) {
    if (catalogue_->pieces[piece].read) {
        queue_.insert(waiting(piece));
    } else {
        queue_.erase(waiting(piece));
        wait(piece, PieceState::to_make, pieces_[piece].turn);
    }
}

Loader::Line& Loader::line_of(PieceId piece) {
    switch (pieces_[piece].state) {
    case PieceState::waiting: return unpack_queue_;
    case PieceState::to_make: return make_queue_;
    default: return pieces_[piece].held_back ? held_back_ : queue_;
    }
}

void Loader::wait(PieceId piece, PieceState state, std::uint64_t turn) {
    pieces_[piece].state = state;
    pieces_[piece].turn = turn;
    line_of(piece).insert(waiting(piece));
    if (state == PieceState::queued) report(ChangeKind::piece_queued, piece.value);
    if (state == PieceState::to_make) report(ChangeKind::piece_making, piece.value);
}

bool Loader::is_untouched(PieceId piece) const {
    const PieceState state = pieces_[piece].state;
    return state == PieceState::queued ||
           (state == PieceState::to_make && !catalogue_->pieces[piece].read);
}

void Loader::raise(PieceId piece, Priority priority) {
    PieceNow& state = pieces_[piece];
    if (!is_untouched(piece) || priority >= state.priority) return;
    line_of(piece).erase(waiting(piece));
    state.priority = priority;
    line_of(piece).insert(waiting(piece));
    loads_[state.record].priority = priority;
}

// --- letting go --------------------------------------------------------------

void Loader::no_longer_needed(PieceId piece) {
    if (is_kept(piece) && !resident(piece)) return; // it is needed again at once
    switch (pieces_[piece].state) {
    case PieceState::absent:
    case PieceState::unmade:
    case PieceState::unpacking:
    case PieceState::making: return; // goes on to the end, and is leaving then
    case PieceState::resident: leave(piece); return;
    case PieceState::queued:
    case PieceState::latency:
    case PieceState::transfer:
    case PieceState::waiting:
    case PieceState::to_make: give_up(piece);
    }
}

/// Nothing needs it any more: it is released at the next sweep.
void Loader::leave(PieceId piece) {
    leaving_.push_back(piece);
    plan_sweep();
}

/// The same of what nothing needed any more while it was worked on.
void Loader::leave_at_end(PieceId piece) {
    leave(piece);
    if (catalogue_->release.sweep.count == 0) release_leaving();
}

void Loader::give_up(PieceId piece) {
    PieceNow& state = pieces_[piece];
    const Piece& content = catalogue_->pieces[piece];
    if (is_staged(piece)) ledger_.unstage(now_, piece, content.packed);
    if (is_in_place(piece)) ledger_.give_back(now_, Holder::piece, piece.value, content.memory);
    if (state.state == PieceState::latency || state.state == PieceState::transfer) {
        if (state.state == PieceState::transfer) transfers_.give_up(piece);
        --reads_;
    } else {
        line_of(piece).erase(waiting(piece));
    }
    state.state = PieceState::absent;
    ++state.generation;
    drop_stale();
    report(ChangeKind::piece_given_up, piece.value);
}

bool Loader::is_staged(PieceId piece) const {
    const PieceState state = pieces_[piece].state;
    return catalogue_->unpack && state >= PieceState::latency && state <= PieceState::unpacking;
}

bool Loader::is_in_place(PieceId piece) const {
    const PieceState state = pieces_[piece].state;
    if (state == PieceState::to_make) return catalogue_->pieces[piece].read;
    return state >= (catalogue_->unpack ? PieceState::unpacking : PieceState::latency);
}

void Loader::plan_sweep() {
    const Micros sweep = catalogue_->release.sweep;
    if (sweep.count == 0) return;
    const Micros at = plan::next_multiple(now_ + Micros{1}, sweep);
    if (sweep_at_ == at) return;
    sweep_at_ = at;
    schedule(at, EventKind::sweep, 0, 0);
}

void Loader::release_leaving() {
    std::vector<PieceId> still_leaving;
    for (const PieceId piece : std::exchange(leaving_, {})) {
        if (pieces_[piece].needed_by > 0 || !has_come(pieces_[piece].state)) continue;
        if (is_kept(piece)) {
            still_leaving.push_back(piece);
        } else {
            release(piece);
        }
    }
    leaving_ = std::move(still_leaving);
}

bool Loader::releasing() const {
    const auto is_leaving = [&](PieceId piece) { // else it is needed again
        return pieces_[piece].needed_by == 0 && has_come(pieces_[piece].state);
    };
    return unpacking_ > 0 || making_ > 0 ||
           std::any_of(leaving_.begin(), leaving_.end(), is_leaving);
}

void Loader::release(PieceId piece) {
    const Piece& content = catalogue_->pieces[piece];
    pieces_[piece].state = PieceState::absent;
    ledger_.give_back(now_, Holder::piece, piece.value, content.memory);
    main_.released(plan::work_for(content.objects, catalogue_->release.per_object), now_);
    report(ChangeKind::piece_released, piece.value);
}

// --- from the queue to resident ----------------------------------------------

void Loader::dispatch() {
    const auto take = [&](Line& line, std::uint32_t busy, std::uint32_t most) {
        if (busy >= most || line.empty()) return PieceId{};
        const PieceId piece = line.begin()->piece;
        line.erase(line.begin());
        return piece;
    };
    while (const PieceId piece = take(queue_, reads_, catalogue_->read.parallel)) start_read(piece);
    const std::uint32_t workers = catalogue_->unpack ? catalogue_->unpack->workers : 0;
    while (const PieceId piece = take(unpack_queue_, unpacking_, workers)) start_unpack(piece);
    while (const PieceId piece = take(make_queue_, making_, catalogue_->makers)) start_make(piece);
}

void Loader::start_read(PieceId piece) {
    PieceNow& state = pieces_[piece];
    const Piece& content = catalogue_->pieces[piece];
    ++reads_;
    state.state = PieceState::latency;
    loads_[state.record].read_start = now_;
    if (catalogue_->unpack) {
        ledger_.stage(now_, piece, content.packed);
    } else {
        ledger_.take(now_, Holder::piece, piece.value, content.memory);
    }
    schedule(now_ + catalogue_->read.latency, EventKind::transfer_starts, piece.value,
             state.generation);
    report(ChangeKind::piece_reading, piece.value);
}

void Loader::read_ended(PieceId piece) {
    --reads_;
    loads_[pieces_[piece].record].read_end = now_;
    if (catalogue_->unpack) {
        wait(piece, PieceState::waiting, sequence_->next());
    } else {
        unpacked(piece);
    }
}

void Loader::start_unpack(PieceId piece) {
    PieceNow& state = pieces_[piece];
    const Piece& content = catalogue_->pieces[piece];
    ++unpacking_;
    state.state = PieceState::unpacking;
    loads_[state.record].unpack_start = now_;
    ledger_.take(now_, Holder::piece, piece.value, content.memory);
    schedule(now_ + plan::duration_of(content.unpacked, catalogue_->unpack->rate),
             EventKind::unpacked, piece.value, state.generation);
    report(ChangeKind::piece_unpacking, piece.value);
}

/// All of it is in place: it is resident, unless it is still to be made.
void Loader::unpacked(PieceId piece) {
    PieceNow& state = pieces_[piece];
    if (!catalogue_->pieces[piece].make) {
        became_resident(piece);
        return;
    }
    state.turn = sequence_->next();
    if (state.needed_by > 0) {
        wait(piece, PieceState::to_make, state.turn);
        return;
    }
    state.state = PieceState::unmade;
    leave_at_end(piece);
}

void Loader::start_make(PieceId piece) {
    PieceNow& state = pieces_[piece];
    const Piece& content = catalogue_->pieces[piece];
    ++making_;
    state.state = PieceState::making;
    loads_[state.record].make_start = now_;
    if (!content.read) ledger_.take(now_, Holder::piece, piece.value, content.memory);
    schedule(now_ + *content.make, EventKind::made, piece.value, state.generation);
}

void Loader::became_resident(PieceId piece) {
    PieceNow& state = pieces_[piece];
    state.state = PieceState::resident;
    report(ChangeKind::piece_resident, piece.value);
    if (state.needed_by == 0) {
        leave_at_end(piece);
        return;
    }
    for (const auto& [order, level] : std::exchange(state.waiters, {})) {
        if (--missing_[level] == 0) state_.arrived(level);
    }
}

// --- attaching ---------------------------------------------------------------

void Loader::left_queue(LevelId level) {
    ++attach_generation_[level];
    drop_stale();
    main_.give_up(level, now_);
}

void Loader::start_frame() {
    if (!main_.busy()) {
        if (const LevelId next = state_.take_first()) {
            main_.attach(next, catalogue_->levels[next].attach_work);
            report(ChangeKind::level_attaching, next.value);
        }
    }
    const MainThread::Started started = main_.start_frame(now_, veiled_);
    if (!started.finished) return;
    schedule(started.end, EventKind::shown, started.finished.value,
             attach_generation_[started.finished]);
}

void Loader::block_ready() {
    if (catalogue_->headless) return;
    Micros work; // no frame begins in a standstill
    for (const LevelId level : state_.block()) {
        if (state_[level].shown) continue;
        work += main_.work_left(level, catalogue_->levels[level].attach_work);
        state_.leave_queue(level);
        report(ChangeKind::level_attaching, level.value);
    }
    schedule(main_.free_at(now_) + work, EventKind::block_ends, 0, 0);
}

/// On a machine that shows nothing, what can be attached is.
void Loader::attach_at_once() {
    if (!catalogue_->headless) return;
    if (state_.is_block_ready()) state_.block_attached();
    if (!state_.block().empty()) return;
    while (const LevelId next = state_.take_first()) state_.attached(next);
}

void Loader::changed(LevelEvent event) {
    const Micros cost = catalogue_->levels[event.level].frame_cost;
    const Micros shown = main_.every_frame() - catalogue_->frame.base;
    if (cost.count > 0 && event.change == LevelChange::shown)
        main_.set_shown_cost(shown + cost, now_);
    if (cost.count > 0 && event.change == LevelChange::hidden)
        main_.set_shown_cost(shown - cost, now_);
    static constexpr std::array kinds{ChangeKind::level_ready, ChangeKind::level_shown,
                                      ChangeKind::level_hidden, ChangeKind::level_unloaded};
    report(kinds.at(static_cast<std::size_t>(event.change)), event.level.value);
}

void Loader::look_at_frames() {
    const FrameRow now{now_, main_.every_frame(), main_.blocked()};
    const bool same = !frames_.empty() && frames_.back().work == now.work &&
                      frames_.back().blocked == now.blocked;
    if (!same) frames_.push_back(now);
}

// --- the clock ---------------------------------------------------------------

void Loader::schedule(Micros at, EventKind kind, std::uint32_t index, std::uint32_t generation) {
    events_.push({{at, sequence_->next()}, kind, index, generation});
}

bool Loader::stale(const Event& event) const {
    switch (event.kind) {
    case EventKind::transfer_starts:
    case EventKind::unpacked:
    case EventKind::made: return pieces_[PieceId{event.index}].generation != event.generation;
    case EventKind::shown: return attach_generation_[LevelId{event.index}] != event.generation;
    case EventKind::sweep:
    case EventKind::block_ends: return false;
    }
    return false;
}

void Loader::drop_stale() {
    while (!events_.empty() && stale(events_.top())) events_.pop();
}

Due Loader::next() const {
    Due due;
    if (!events_.empty()) due = events_.top().due;
    if (const auto end = transfers_.next_end()) due = std::min(due, Due{end->at, end->order});
    return due;
}

void Loader::set_now(Micros now) {
    now_ = now;
    transfers_.advance(now);
}

void Loader::run_next() {
    const auto end = transfers_.next_end();
    const bool transfer_first =
        end && (events_.empty() || Due{end->at, end->order} < events_.top().due);
    if (transfer_first) {
        transfers_.take_end();
        read_ended(end->piece);
        return;
    }
    const Event event = events_.top();
    events_.pop();
    drop_stale();
    switch (event.kind) {
    case EventKind::transfer_starts: {
        const PieceId piece{event.index};
        pieces_[piece].state = PieceState::transfer;
        transfers_.start(now_, piece, catalogue_->pieces[piece].packed, event.due.order);
        break;
    }
    case EventKind::unpacked: {
        const PieceId piece{event.index};
        --unpacking_;
        loads_[pieces_[piece].record].unpack_end = now_;
        ledger_.unstage(now_, piece, catalogue_->pieces[piece].packed);
        unpacked(piece);
        break;
    }
    case EventKind::made: {
        const PieceId piece{event.index};
        --making_;
        loads_[pieces_[piece].record].make_end = now_;
        became_resident(piece);
        break;
    }
    case EventKind::sweep:
        sweep_at_ = Micros::never();
        release_leaving();
        break;
    case EventKind::shown:
        main_.finished();
        state_.attached(LevelId{event.index});
        break;
    case EventKind::block_ends: state_.block_attached(); break;
    }
}

void Loader::run_instant(Micros at) {
    set_now(at);
    do {
        while (next().at == at) run_next();
        dispatch();
    } while (next().at == at);
    if (frame_due() == at) start_frame();
    end_instant();
}

void Loader::begin_running() {
    dispatch();
    if (frame_due() == now_) start_frame();
    end_instant();
}

void Loader::run_until(Micros end) {
    begin_running();
    for (Micros at = next_instant(); at <= end && at != Micros::never(); at = next_instant()) {
        run_instant(at);
    }
    set_now(std::max(now_, end));
    end_instant();
}

void Loader::run_until_idle() {
    begin_running();
    for (Micros at = next_instant(); at != Micros::never(); at = next_instant()) run_instant(at);
}

// --- what is so --------------------------------------------------------------

LevelCondition Loader::condition(LevelId level) const {
    const LevelNow& state = state_[level];
    const PieceId own = catalogue_->piece_of(level);
    if (state.shown) return LevelCondition::shown;
    if (!state.asked)
        return has_come(pieces_[own].state) ? LevelCondition::leaving : LevelCondition::absent;
    if (state.loaded) {
        const bool attaching =
            main_.attaching() == level || (state.blocked && state_.is_block_ready());
        return attaching ? LevelCondition::attaching : LevelCondition::ready;
    }
    PieceId missing;
    catalogue_->for_pieces(level, [&](PieceId piece) {
        if (!missing && !resident(piece)) missing = piece;
    });
    if (!missing) return condition(catalogue_->tree[level].parent);
    switch (pieces_[missing].state) {
    case PieceState::absent:
    case PieceState::queued: return LevelCondition::queued;
    case PieceState::latency:
    case PieceState::transfer: return LevelCondition::reading;
    case PieceState::waiting:
    case PieceState::unpacking: return LevelCondition::unpacking;
    case PieceState::to_make:
    case PieceState::making: return LevelCondition::making;
    case PieceState::unmade:
    case PieceState::resident: break;
    }
    return LevelCondition::ready;
}

bool Loader::idle() const {
    return queue_.empty() && reads_ == 0 && unpack_queue_.empty() && unpacking_ == 0 &&
           make_queue_.empty() && making_ == 0 && !main_.busy() && state_.queue().empty() &&
           state_.block().empty();
}

std::vector<Change> Loader::take_changes() {
    return std::exchange(changes_, {});
}

} // namespace hestrel::loading
