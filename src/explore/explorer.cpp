#include "explore/explorer.hpp"

#include "plan/jobs.hpp"
#include "plan/questions.hpp"

#include <algorithm>
#include <atomic>
#include <set>

namespace hestrel::explore {

using plan::LevelId;

namespace {

/// Situations looked at together: what is not remembered of their moves is worked out at once.
constexpr std::size_t block_size = 4'096;
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
    if (hurried) return silent_ends(plan, tree, kept);
    Reduction reduction;
    reduction.near = FoldedNear(plan, tree, kept);
    return reduction;
}

plan::LevelId launch_level(const plan::Plan& plan, plan::EditionId edition) {
    if (edition) return plan.editions[edition].levels.front();
    return plan::launched_in(plan, plan.routes[plan::RouteId{0}]);
}

} // namespace

Explorer::Explorer(const plan::Plan& plan, Options options)
    : plan_(&plan), options_(std::move(options)),
      packed_(plan, players_of(plan, options_), options_.tell_players_apart,
              reduction_for(plan, options_)),
      moves_(plan, packed_.players(),
             {options_.pace, options_.most_running, launch_level(plan, options_.edition),
              options_.quit_anywhere},
             packed_.reduction()),
      bounds_(bounds_for(plan, options_.devices, packed_.players())),
      worst_(plan, options_.devices, bounds_, packed_.levels(), packed_.near()),
      builder_(plan, packed_, moves_, bounds_, worst_, options_.most_running),
      memos_(plan, packed_, moves_), rows_(packed_.layout().words),
      rule_broken_(plan.rules.size(), false), came_true_(plan.conditions.size(), false),
      runners_(std::max(1U, options_.jobs)) {
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

/// The memo entries of all moves from the situations of the block; those that are not known are
/// worked out.
void Explorer::look_up() {
    block_.entries.clear();
    block_.starts.clear();
    block_.contexts.clear();
    block_.places.clear();
    for (const std::uint32_t situation : block_.situations) {
        const Word* row = rows_[situation];
        ContextMemo& context = memos_.context_of(row, situation);
        block_.contexts.push_back(&context);
        for (std::size_t player = 0; player < players().size(); ++player)
            block_.places.push_back(&memos_.place_of(context, player, row));
    }
    std::vector<Missing> missing;
    PlaceMemo* const* place = block_.places.data();
    for (std::size_t i = 0; i < block_.situations.size(); ++i) {
        block_.starts.push_back(block_.entries.size());
        const std::uint32_t situation = block_.situations[i];
        const Word* row = rows_[situation];
        const auto look = [&](Memo& memo) {
            const MemoEntry* known = memo.find(packed_.read_values(), row);
            if (known == nullptr) known = quiet_entry(memo, situation);
            if (known == nullptr) missing.push_back({&memo, situation, block_.entries.size()});
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
            const Word* row = rows_[each.situation];
            if (told.emplace(each.memo, each.memo->answers(packed_.read_values(), row)).second)
                tried.push_back(each);
        }
        std::vector<MoveRun> trials(tried.size());
        const auto try_out = [&](std::size_t i, MoveRunner& runner) {
            trials[i] = runner.try_out(moves_.at_each_speed(tried[i].memo->move()),
                                       packed_.unpacked(rows_[tried[i].situation]));
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
            const std::uint32_t situation = tried[i].situation;
            const Word* row = rows_[situation];
            for (const Ending& way : trials[i].ways)
                order_mattered_ = order_mattered_ || (way.order_mattered && packed_.alike().any());
            if (memo.find(packed_.read_values(), row) == nullptr)
                memos_.keep(memo, builder_.tried(trials[i], memo.move(), row, situation));
        }
        std::erase_if(missing, [&](const Missing& each) {
            const MemoEntry* known = each.memo->find(packed_.read_values(), rows_[each.situation]);
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

/// Whether a player stands in a level, and nothing is shown there.
void Explorer::look_at_stand(const PlaceMemo& place, std::uint32_t situation, std::size_t player) {
    const Word* row = rows_[situation];
    const auto shown = [&](plan::LevelId level) { return is_shown(row, level); };
    if (std::any_of(place.seen.begin(), place.seen.end(), shown)) return;
    const plan::LevelId level = place.seen.front();
    const bool known = std::any_of(bare_.begin(), bare_.end(),
                                   [&](const Bare& each) { return each.level == level; });
    if (!known) bare_.push_back({level, situation, player});
}

// --- exploring ---------------------------------------------------------------

/// Puts what a situation leads to into the batch.
template <class Words>
void Explorer::gather(std::size_t in_block, Words words) {
    const Word* row = rows_[block_.situations[in_block]];
    std::uint64_t made = 0;
    std::size_t launched = 0;
    bool adds = false;
    std::size_t size = batch_.size;
    const std::size_t* starts = block_.starts.data() + in_block;
    for (std::size_t i = starts[0]; i < starts[1]; ++i) {
        const Few<Outcome>& outcomes = block_.entries[i]->outcomes;
        made += block_.entries[i]->moves;
        adds = adds || !block_.entries[i]->nowhere.empty();
        if (size + outcomes.size() > batch_.hashes.size()) {
            batch_.hashes.resize(2 * (size + outcomes.size()) + batch_size);
            batch_.outcomes.resize(batch_.hashes.size());
            batch_.rows.resize(batch_.hashes.size() * words);
        }
        for (const Outcome& outcome : outcomes) {
            adds = adds || outcome.added != Worst::nothing;
            if (outcome.leads_back()) continue;
            Word* after = batch_.rows.data() + size * words;
            for (std::size_t word = 0; word < words; ++word) after[word] = row[word];
            if (!packed_.apply(outcome, after)) continue; // placed where they were
            if (packed_.alike().any()) packed_.alike().sort(after);
            const std::uint32_t hash = rows_.hash(after, words);
            rows_.expect_slot(hash);
            if (options_.quit_anywhere && launches(outcome)) ++launched;
            batch_.hashes[size] = hash;
            batch_.outcomes[size++] = &outcome;
        }
    }
    batch_.size = size;
    batch_.from.push_back({in_block, size, launched, made, adds});
}

/// Of all moves from a situation of the block, also of those that are not followed.
template <class What>
void Explorer::for_outcomes_from(std::size_t in_block, What&& what) const {
    const std::size_t* starts = block_.starts.data() + in_block;
    for (std::size_t i = starts[0]; i < starts[1]; ++i) {
        const MemoEntry& entry = *block_.entries[i];
        for (const Outcome& outcome : entry.outcomes) what(outcome);
        for (const Outcome& outcome : entry.nowhere) what(outcome);
    }
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
    for (std::size_t player = 0; player < players().size(); ++player) {
        const PlaceMemo& place = *block_.places[in_block * players().size() + player];
        if (!place.seen.empty()) look_at_stand(place, situation, player);
    }
    if (!plan_->rules.empty()) look_at_rules(*block_.contexts[in_block], situation);
    measure(in_block, moves_add);
}

/// Adds what one situation leads to; that stands in the batch from `begin`.
template <class Words>
void Explorer::add(const Batch::From& from, std::size_t begin, Words words) {
    const std::size_t in_block = from.in_block;
    const std::uint32_t situation = block_.situations[in_block];
    const Word* row = rows_[situation];
    moves_made_ += from.made;
    if (goal_) {
        looked_at_.resize(rows_.size());
        looked_at_[situation] = true;
    } else {
        look_at(in_block, from.adds);
    }
    const std::size_t found = from.end - begin;
    const bool remembers =
        edge_starts_.size() == situation && edges_.size() + found <= options_.most_edges;
    if (remembers) edge_starts_.push_back(static_cast<std::uint32_t>(edges_.size()));
    const bool leads_on = found > from.launches || control_of(row).ended ||
                          control_of(row).booting || !block_.contexts[in_block]->at_rest;
    for (std::size_t i = begin; i < from.end; ++i) {
        const auto [number, fresh] =
            rows_.add(batch_.rows.data() + i * words, batch_.hashes[i], words);
        if (remembers) edges_.push_back(number);
        if (!fresh) continue;
        parents_.push_back(situation);
        by_.push_back(batch_.outcomes[i]->taken);
        if (goal_) note_missing(number);
    }
    if (!leads_on && dead_ends_.count++ == 0) dead_ends_.first = situation;
}

/// Adds what the situations of the batch lead to, until a limit is reached.
template <class Words>
void Explorer::flush(Words words) {
    for (std::size_t i = 0; i < batch_.size; ++i) rows_.expect_row(batch_.hashes[i]);
    std::size_t begin = 0;
    for (const Batch::From& from : batch_.from) {
        if (!within_limits()) break;
        add(from, begin, words);
        begin = from.end;
        ++next_;
        constexpr std::size_t now_and_then = 0xFFFF;
        if (options_.progress && (next_ & now_and_then) == 0)
            options_.progress(rows_.size(), rows_.size() - next_);
    }
    batch_.from.clear();
    batch_.size = 0;
}

/// Adds what the situations of the block lead to, until a limit is reached.
void Explorer::expand_block() {
    switch (layout().words) {
    case 2: expand_block(std::integral_constant<std::size_t, 2>{}); break;
    case 3: expand_block(std::integral_constant<std::size_t, 3>{}); break;
    case 4: expand_block(std::integral_constant<std::size_t, 4>{}); break;
    default: expand_block(layout().words);
    }
}

template <class Words>
void Explorer::expand_block(Words words) {
    const std::size_t before = next_;
    for (std::size_t i = 0; i < block_.situations.size(); ++i) {
        gather(i, words);
        if (batch_.size < batch_size && i + 1 < block_.situations.size()) continue;
        flush(words);
        if (next_ != before + i + 1) return;
    }
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
    parents_.push_back(number);
    by_.push_back(taken);
    if (goal_) note_missing(number);
}

/// What a situation that was just met is for those that look for one.
void Explorer::note_missing(std::uint32_t situation) {
    const std::uint32_t parent = parents_[situation];
    moves_to_.push_back(parent == situation ? 0 : moves_to_[parent] + 1);
    depth_ = std::max<std::size_t>(depth_, moves_to_.back());
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
    while (!nearest_.empty() && !found_ && within_limits() && !order_mattered_) {
        block_.situations.clear();
        while (!nearest_.empty() && block_.situations.size() < at_once) {
            auto& queue = nearest_.begin()->second;
            block_.situations.push_back(queue.front());
            queue.pop();
            if (queue.empty()) nearest_.erase(nearest_.begin());
        }
        look_up();
        expand_block();
    }
}

void Explorer::run_breadth_first() {
    std::size_t end_of_level = rows_.size();
    while (next_ < rows_.size() && within_limits() && !order_mattered_) {
        block_.situations.clear();
        const std::size_t end = std::min(next_ + block_size, end_of_level);
        for (std::size_t situation = next_; situation < end; ++situation)
            block_.situations.push_back(static_cast<std::uint32_t>(situation));
        look_up();
        expand_block();
        if (next_ == end_of_level && next_ < rows_.size()) {
            ++depth_;
            end_of_level = rows_.size();
        }
    }
}

void Explorer::run() {
    begin();
    if (goal_) {
        run_best_first();
        return;
    }
    run_breadth_first();
    if (edge_starts_.size() == next_)
        edge_starts_.push_back(static_cast<std::uint32_t>(edges_.size()));
    for (const auto& runner : runners_) {
        for (std::size_t condition = 0; condition < came_true_.size(); ++condition) {
            if (runner && runner->came_true()[condition]) came_true_[condition] = true;
        }
    }
}

bool Explorer::within_limits() const {
    return rows_.size() <= options_.most_situations &&
           bytes() + builder_.effect_bytes() <= options_.most_bytes;
}

std::size_t Explorer::bytes() const {
    return rows_.bytes() + packed_.levels().bytes() +
           (parents_.capacity() + by_.capacity() + moves_to_.capacity() + edges_.capacity() +
            edge_starts_.capacity()) *
               sizeof(std::uint32_t);
}

} // namespace hestrel::explore
