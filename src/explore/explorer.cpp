#include "explore/explorer_expand.hpp"

#include "plan/jobs.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <atomic>
#include <numeric>
#include <set>

namespace hestrel::explore {

using plan::LevelId;

namespace {

/// Of what they lead to, so much is looked for in the table at once: memory is slow to come, but
/// brings many things at the same time.
constexpr std::size_t batch_size = 256;
/// So few moves are worked out sooner by one thread.
constexpr std::size_t few = 64;

std::vector<plan::PlayerKindId> players_of(const plan::Plan& plan, const Options& options) {
    if (!options.players.empty()) return options.players;
    std::vector<plan::PlayerKindId> kinds;
    for (const plan::PlayerKindId kind : plan.players.ids())
        kinds.insert(kinds.end(), plan.players[kind].count, kind);
    if (kinds.empty()) kinds.emplace_back();
    return kinds;
}

std::vector<Bounds> bounds_for(const plan::Plan& plan, const std::vector<plan::DeviceId>& devices,
                               const std::vector<plan::PlayerKindId>& players) {
    std::vector<Bounds> bounds;
    for (const plan::DeviceId device : devices) bounds.emplace_back(plan, device, players);
    return bounds;
}

/// So many levels that stream by distance are kept in situations, unless it is said otherwise.
constexpr std::size_t most_near = 100;

Reduction reduction_for(const plan::Plan& plan, const Options& options) {
    const bool hurried = options.pace == Pace::hurried;
    const bool folds = options.fold_near.value_or(count_near(plan) > most_near);
    if (hurried ? options.tell_all_ends : !folds) return {};
    std::vector<LevelId> kept;
    if (options.start) {
        kept = options.start->loaded;
        kept.push_back(options.start->level);
        if (options.start->checkpoint) kept.push_back(options.start->checkpoint->level);
    }
    // From there a game can come to more than from the beginning. What streams by distance is
    // always counted in.
    if (options.begun) {
        for (const flow::Snapshot::Level& each : options.begun->levels)
            if (!plan.levels[each.level].near) kept.push_back(each.level);
    }
    if (options.saved && options.saved->checkpoint)
        kept.push_back(options.saved->checkpoint->level);
    if (options.toward) {
        // Memory is to be less where a level has come.
        if (plan.conditions[options.toward].asks({plan::Operation::memory}) && hurried) return {};
        for (const plan::Term& term : plan.conditions[options.toward].terms) {
            const std::vector<LevelId> levels = plan::levels_of(plan, term);
            kept.insert(kept.end(), levels.begin(), levels.end());
        }
    }
    const plan::LevelTree tree = plan::level_tree(plan.levels);
    if (hurried) return silent_ends(plan, tree, options.edition, kept);
    Reduction reduction;
    reduction.near = FoldedNear(plan, tree, options.edition, kept);
    return reduction;
}

plan::LevelId launch_level(const plan::Plan& plan, plan::EditionId edition) {
    if (edition) return plan.editions[edition].levels.front();
    return plan::launched_in(plan, plan.routes[plan::RouteId{0}]);
}

} // namespace

Explorer::Explorer(const plan::Plan& plan, Options options)
    : plan_(&plan), options_(std::move(options)), pages_(options_.overflow.get()),
      packed_(plan, players_of(plan, options_), options_.tell_players_apart,
              reduction_for(plan, options_), pages_),
      moves_(plan, packed_.players(),
             {options_.pace, options_.most_running, launch_level(plan, options_.edition),
              options_.quit_anywhere},
             packed_.reduction()),
      bounds_(bounds_for(plan, options_.devices, packed_.players())),
      worst_(plan, options_.devices, bounds_, packed_.levels(), packed_.near()),
      builder_(plan, packed_, moves_, bounds_, worst_, options_.most_running),
      memos_(plan, packed_, moves_), rows_(pages_, packed_.layout().words), ways_(pages_, 2),
      news_(pages_, 1), rule_broken_(plan.rules.size(), false),
      came_true_(plan.conditions.size(), false), runners_(std::max(1U, options_.jobs)) {
    constexpr std::size_t most_numbered = 4'000'000'000; // by 32 bits
    options_.most_situations = std::min(options_.most_situations, most_numbered);
    find_start();
    if (options_.toward) goal_ = std::make_unique<Goal>(plan, options_.toward, packed_, bounds_);
}

Explorer::~Explorer() = default;

void Explorer::find_start() {
    if (options_.start) {
        start_ = *options_.start;
    } else if (options_.edition) {
        start_.level = plan_->editions[options_.edition].levels.front();
        start_.at = plan::first_entry(plan_->levels[start_.level]);
    } else {
        start_ = plan_->routes[plan::RouteId{0}].start;
    }
}

MoveRunner& Explorer::runner(std::size_t job) {
    if (!runners_[job])
        runners_[job] = std::make_unique<MoveRunner>(*plan_, options_.edition, players(),
                                                     options_.pace, layout(), packed_.reduction());
    return *runners_[job];
}

// --- what moves do -----------------------------------------------------------

/// The case of a move on which nothing can happen; null where that is to be worked out.
const MemoEntry* Explorer::quiet_entry(Memo& memo, std::uint32_t situation) {
    auto quiet = builder_.quiet(memo.move(), rows_[situation], situation);
    return quiet ? memos_.keep(memo, std::move(*quiet)) : nullptr;
}

void Explorer::add_way(std::uint32_t parent, std::uint32_t taken) {
    const std::array<std::uint32_t, 2> way{parent, taken};
    ways_.add(way.data());
}

/// The memo entries of all moves from the situations of the block; those that are not known are
/// worked out.
void Explorer::look_up() {
    block_.entries.clear();
    block_.starts.clear();
    block_.contexts.clear();
    block_.places.clear();
    block_.news.assign(block_.situations.size(), false);
    for (std::size_t i = 0; i < block_.situations.size(); ++i) {
        const std::uint32_t situation = block_.situations[i];
        const Word* row = rows_[situation];
        const std::size_t known = memos_.size();
        ContextMemo& context = memos_.context_of(row, situation);
        block_.contexts.push_back(&context);
        for (std::size_t player = 0; player < players().size(); ++player)
            block_.places.push_back(&memos_.place_of(context, player, row));
        if (memos_.size() != known) block_.news[i] = true;
    }
    std::vector<Missing> missing;
    PlaceMemo* const* place = block_.places.data();
    for (std::size_t i = 0; i < block_.situations.size(); ++i) {
        block_.starts.push_back(block_.entries.size());
        const std::uint32_t situation = block_.situations[i];
        const Word* row = rows_[situation];
        const auto look = [&](Memo& memo) {
            const MemoEntry* known = memo.find(packed_.read_values(), row);
            if (known == nullptr) {
                known = quiet_entry(memo, situation);
                if (known != nullptr) block_.news[i] = true;
            }
            if (known == nullptr) missing.push_back({&memo, i, block_.entries.size()});
            block_.entries.push_back(known);
        };
        for (Memo& memo : block_.contexts[i]->moves) look(memo);
        for (std::size_t player = 0; player < players().size(); ++player) {
            for (Memo& memo : (*place++)->moves) look(memo);
        }
    }
    block_.starts.push_back(block_.entries.size());
    if (!missing.empty()) work_out(std::move(missing));
}

/// Works out what is not known yet of moves, several at once. What is tried, and in which order it
/// is remembered, does not depend on the number of threads.
void Explorer::work_out(std::vector<Missing> missing) {
    while (!missing.empty()) {
        // Of those that answer the same to all that was asked of their move so far, the first.
        std::vector<Missing> tried;
        std::set<std::pair<const Memo*, std::uint64_t>> told;
        for (const Missing& each : missing) {
            const Word* row = row_in_block(each.in_block);
            if (told.emplace(each.memo, each.memo->answers(packed_.read_values(), row)).second)
                tried.push_back(each);
        }
        for (const Missing& each : tried) block_.news[each.in_block] = true;
        std::vector<MoveRun> trials(tried.size());
        const auto try_out = [&](std::size_t i, MoveRunner& runner) {
            trials[i] = runner.try_out(moves_.at_each_speed(tried[i].memo->move()),
                                       packed_.unpacked(row_in_block(tried[i].in_block)));
        };
        if (options_.jobs > 1 && tried.size() > few) {
            std::atomic<std::size_t> next{0};
            plan::in_parallel(options_.jobs, options_.jobs, [&](std::size_t job) {
                for (std::size_t i = next++; i < tried.size(); i = next++) try_out(i, runner(job));
            });
        } else {
            for (std::size_t i = 0; i < tried.size(); ++i) try_out(i, runner(0));
        }
        for (std::size_t i = 0; i < tried.size(); ++i) {
            Memo& memo = *tried[i].memo;
            const std::uint32_t situation = block_.situations[tried[i].in_block];
            const Word* row = rows_[situation];
            for (const Ending& way : trials[i].ways)
                order_mattered_ = order_mattered_ || (way.order_mattered && packed_.alike().any());
            if (memo.find(packed_.read_values(), row) == nullptr)
                memos_.keep(memo, builder_.tried(trials[i], memo.move(), row, situation));
        }
        std::erase_if(missing, [&](const Missing& each) {
            const MemoEntry* known =
                each.memo->find(packed_.read_values(), row_in_block(each.in_block));
            block_.entries[each.number] = known;
            return known != nullptr;
        });
    }
}

void Explorer::look_at_rules(ContextMemo& context, std::uint32_t situation) {
    const Word* row = rows_[situation];
    if (context.rules.find(packed_.read_values(), row) != nullptr) return;
    if (!context.at_rest) {
        memos_.keep(context.rules, {}); // rules are for what has settled
        return;
    }
    Game& game = runner(0).resume(packed_.unpacked(row));
    MemoEntry seen;
    for (const plan::RuleId rule : plan_->rules.ids()) {
        if (!game.rules().broken(rule, true) || rule_broken_[rule]) continue;
        rule_broken_[rule] = true;
        broken_.push_back({game.rules().breach(rule), situation});
    }
    MoveRun asked;
    runner(0).take_asked(asked);
    seen.asked = packed_.read_set_of(asked, row, UINT32_MAX);
    memos_.keep(context.rules, std::move(seen));
}

/// Whether a player there stands in a level, and nothing is shown, and that is the first time.
bool Explorer::is_bare_anew(const PlaceMemo& place, const Word* row) const {
    const auto shown = [&](plan::LevelId level) { return is_shown(row, level); };
    if (place.seen.empty() || std::any_of(place.seen.begin(), place.seen.end(), shown))
        return false;
    return std::none_of(bare_.begin(), bare_.end(),
                        [&](const Bare& each) { return each.level == place.seen.front(); });
}

// --- exploring ---------------------------------------------------------------

Moving Explorer::moving(std::uint32_t situation, const ContextMemo& context,
                        std::span<const MemoEntry* const> entries) const {
    const flow::State& control = control_of(rows_[situation]);
    return {situation, rows_[situation], entries,
            control.ended || control.booting || !context.at_rest};
}

/// Of all moves from a situation of the block, also of those that are not followed.
template <class What>
void Explorer::for_outcomes_from(std::size_t in_block, What&& what) const {
    for (const MemoEntry* entry : entries_in_block(in_block)) entry->for_outcomes(what);
}

/// Memory and frames there, and during all moves from there.
void Explorer::measure(std::size_t in_block, bool moves_add) {
    if (worst_.measures().empty()) return;
    const std::uint32_t situation = block_.situations[in_block];
    const Word* row = rows_[situation];
    if (folded().any()) {
        measure_near(in_block);
        return;
    }
    worst_.look_at(situation, level_number(row), packed_.control_number(row), control_of(row));
    if (!moves_add && worst_.has_moved()) return;
    for_outcomes_from(in_block, [&](const Outcome& outcome) {
        worst_.look_at_move(outcome.added, outcome.taken, outcome.effect);
    });
}

/// The same where levels are left out.
void Explorer::measure_near(std::size_t in_block) {
    const std::uint32_t situation = block_.situations[in_block];
    const Word* row = rows_[situation];
    near_.clear();
    for (std::size_t player = 0; player < players().size(); ++player)
        near_.push_back(packed_.near_player(row, player));
    worst_.look_at(situation, level_number(row), packed_.control_number(row), control_of(row),
                   near_);
    for_outcomes_from(in_block, [&](const Outcome& outcome) {
        worst_.look_at_move(outcome.added, outcome.near, outcome.taken, outcome.effect);
    });
}

/// What is to be said of a situation, and of the moves from it.
void Explorer::look_at(std::size_t in_block, bool moves_add) {
    const std::uint32_t situation = block_.situations[in_block];
    const std::size_t known = memos_.size() + worst_.changes() + bare_.size();
    for (std::size_t player = 0; player < players().size(); ++player) {
        const PlaceMemo& place = *block_.places[in_block * players().size() + player];
        if (is_bare_anew(place, rows_[situation]))
            bare_.push_back({place.seen.front(), situation, player});
    }
    if (!plan_->rules.empty()) look_at_rules(*block_.contexts[in_block], situation);
    measure(in_block, moves_add);
    if (memos_.size() + worst_.changes() + bare_.size() != known) block_.news[in_block] = true;
}

/// All that is to be noted of a situation of the block whose moves are in a batch.
void Explorer::visit(const Batch::From& from) {
    if (goal_) {
        looked_at_.resize(rows_.size());
        looked_at_[from.situation] = true;
    } else {
        look_at(from.in_block, from.adds);
    }
    if (ledger_ && block_.news[from.in_block]) news_.add(&from.situation);
}

void Explorer::count(const Batch::From& from) {
    moves_made_ += from.made;
    if (!from.leads_on && dead_ends_.count++ == 0) dead_ends_.first = from.situation;
}

/// Adds what the situations of the batch lead to, until a limit is reached.
template <class Words>
void Explorer::flush(Words words) {
    for (std::size_t i = 0; i < batch_.size; ++i) rows_.expect_row(batch_.hashes[i]);
    rows_.make_room(batch_.size);
    ways_.make_room(batch_.size);
    Piece piece{&batch_};
    for (const Batch::From& from : batch_.from) {
        if (!has_room()) break;
        visit(from);
        add(piece, words);
        ++piece.from;
        piece.begin = from.end;
        ++next_;
        constexpr std::size_t now_and_then = 0xFFFF;
        if (options_.progress && (next_ & now_and_then) == 0)
            options_.progress(rows_.size(), rows_.size() - next_);
    }
    batch_.clear();
}

/// Adds what the situations of the block lead to, until a limit is reached.
void Explorer::expand_block() {
    with_words([&](auto words) {
        const std::size_t before = next_;
        for (std::size_t i = 0; i < block_.situations.size(); ++i) {
            gather(batch_, i, words);
            if (batch_.size < batch_size && i + 1 < block_.situations.size()) continue;
            flush(words);
            if (next_ != before + i + 1) return;
        }
    });
}

/// The boot, with every way of taking the branches that it meets.
void Explorer::begin() {
    if (options_.begun) {
        Ending begun = ending_of(*plan_, layout(), *options_.begun);
        std::erase_if(begun.levels,
                      [&](const LevelThere& each) { return folded().leaves_out(each.level); });
        begin_at(begun, builder_.number_of(0, {}));
        return;
    }
    const auto ways = MoveRunner::boot(*plan_, options_.edition, players(), options_.pace, layout(),
                                       packed_.reduction(), start_, options_.saved, came_true_);
    boot_log_ = ways.front().log;
    boots_ = std::any_of(ways.begin(), ways.end(),
                         [](const Ending& way) { return !way.control.booting; });
    for (const Ending& way : ways) {
        if (!way.log.endless) begin_at(way, builder_.number_of(0, way.log.taken));
    }
}

void Explorer::begin_at(const Ending& way, std::uint32_t taken) {
    std::vector<Word> start = packed_.row_of(way);
    const std::vector<std::uint32_t> from = packed_.alike().sort_told(start.data());
    order_mattered_ = order_mattered_ || (way.order_mattered && packed_.alike().any());
    const auto [number, fresh] = rows_.add(start.data(), rows_.hash(start.data()));
    if (!fresh) return;
    begun_as_.push_back(from);
    add_way(number, taken);
    if (goal_) note_missing(number);
}

/// What a situation that was just met is for those that look for one.
void Explorer::note_missing(std::uint32_t situation) {
    const std::uint32_t parent = this->parent(situation);
    moves_to_.push_back(parent == situation ? 0 : moves_to_[parent] + 1);
    farthest_ = std::max<std::size_t>(farthest_, moves_to_.back());
    const std::uint32_t missing = goal_->missing(rows_[situation]);
    const auto shorter = [&] { return moves_to_[situation] < moves_to_[*found_]; };
    if (missing == 0 && (!found_ || shorter())) found_ = situation;
    // What is missing is no more than a guess. It counts more than the moves made: a way is wanted
    // soon, and a short one if it can be.
    constexpr std::uint32_t weight = 3;
    nearest_[moves_to_.back() + weight * missing].push(situation);
}

void Explorer::run_best_first() {
    constexpr std::size_t at_once = 64; // few enough that the next ones are among the nearest
    while (!nearest_.empty() && !found_ && has_room() && !order_mattered_) {
        block_.situations.clear();
        while (!nearest_.empty() && block_.situations.size() < at_once) {
            auto& queue = nearest_.begin()->second;
            block_.situations.push_back(queue.front());
            queue.pop();
            if (queue.empty()) nearest_.erase(nearest_.begin());
        }
        look_up();
        expand_block();
        pages_.keep_below(options_.most_bytes);
    }
}

/// Where the block of a situation ends, as far as the end of its layer is known.
std::size_t Explorer::end_of_block(std::size_t situation) const {
    const auto next = std::upper_bound(layers_.begin(), layers_.end(), situation);
    const std::size_t layer = *std::prev(next);
    const std::size_t end = layer + ((situation - layer) / block_size + 1) * block_size;
    return next == layers_.end() ? end : std::min<std::size_t>(end, *next);
}

void Explorer::run_breadth_first() {
    std::size_t end_of_layer = rows_.size();
    while (next_ < rows_.size() && has_room() && !order_mattered_) {
        const std::size_t end = end_of_round(end_of_layer);
        if (end > next_) {
            if (!expand_round(end)) alone_until_ = end;
        } else {
            block_.situations.resize(std::min(end_of_block(next_), end_of_layer) - next_);
            std::iota(block_.situations.begin(), block_.situations.end(),
                      static_cast<std::uint32_t>(next_));
            look_up();
            expand_block();
        }
        pages_.keep_below(options_.most_bytes);
        if (next_ != end_of_layer) continue;
        if (next_ < rows_.size()) layers_.push_back(static_cast<std::uint32_t>(next_));
        end_of_layer = rows_.size();
        if (ledger_ && !order_mattered_) end_layer();
    }
}

void Explorer::run() {
    begin();
    if (goal_) {
        run_best_first();
        return;
    }
    layers_.push_back(0);
    if (options_.ledger) {
        ledger_ = options_.ledger(options_.tell_players_apart);
        take_up_layers();
    }
    try {
        run_breadth_first();
    } catch (const plan::NoRoom&) {
        if (options_.team) throw; // the others go on
        out_of_room_ = true;      // what was looked at until then is as good as ever
    }
    if (unkept_) ledger_->keep(*unkept_);
    for (const auto& runner : runners_) {
        for (std::size_t condition = 0; condition < came_true_.size(); ++condition) {
            if (runner && runner->came_true()[condition]) came_true_[condition] = true;
        }
    }
}

/// Whether the limits allow more; what there is goes to the disk where that helps.
bool Explorer::has_room() {
    const auto fits = [&] { return bytes() + builder_.effect_bytes() <= options_.most_bytes; };
    return rows_.size() <= options_.most_situations && (fits() || (move_out() && fits()));
}

bool Explorer::move_out() {
    if (pages_.overflows() || !pages_.overflow()) return false;
    rows_.move_out();
    ways_.move_out();
    news_.move_out();
    packed_.levels().move_out();
    return true;
}

std::size_t Explorer::bytes() const {
    return pages_.bytes() + moves_to_.capacity() * sizeof(std::uint32_t);
}

} // namespace hestrel::explore
