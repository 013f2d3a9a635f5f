#pragma once
// What the game remembers: facts with their lifetimes, the checkpoint, the saved store
// (docs/model.md section 6).

#include "flow/ids.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace hestrel::flow {

/// A fact's value as one number: 0 or 1; the number itself; the word's index.
using FactValue = std::int64_t;

using plan::Checkpoint;

/// Where a value stands among all values. A fact has one; a fact with `of-each: player` one for
/// each player, one after another.
using FactSlot = plan::Index<struct FactSlotTag>;

/// The slots of all facts of a plan, in its order.
class FactSlots {
public:
    FactSlots(const plan::Plan& plan, std::size_t players);

    /// A player's (unset: the first's) own; the only one of a fact that has one for all.
    [[nodiscard]] FactSlot of(plan::FactId fact, PlayerId player) const {
        const bool own = player && first_[fact.value + 1] - first_[fact.value] > 1;
        return FactSlot{first_[fact.value] + (own ? player.value : 0)};
    }
    [[nodiscard]] plan::FactId fact(FactSlot slot) const { return facts_[slot]; }
    /// Whose it is; unset: everybody's.
    [[nodiscard]] PlayerId player(FactSlot slot) const;
    [[nodiscard]] auto ids() const { return facts_.ids(); }
    [[nodiscard]] std::size_t size() const { return facts_.size(); }
    /// Calls `each(slot)` for those of a fact: a player's, or (unset) all.
    void for_each(plan::FactId fact, PlayerId player, const auto& each) const {
        if (player) return each(of(fact, player));
        for (std::size_t slot = first_[fact.value]; slot < first_[fact.value + 1]; ++slot)
            each(FactSlot{slot});
    }

private:
    std::vector<std::size_t> first_; ///< by fact, and one behind
    plan::Table<FactSlot, plan::FactId> facts_;
};

/// A value of each slot.
using FactValues = plan::Table<FactSlot, FactValue>;

/// What a game has saved.
struct SavedStore {
    FactValues facts; ///< only those of lifetime `saved` count
    std::optional<Checkpoint> checkpoint;
    bool operator==(const SavedStore&) const = default;
};

/// The same between sessions: what is a player's own goes by the player's name.
struct KeptStore {
    std::vector<FactValue> facts; ///< by fact; of one of each player: of players not named
    std::map<std::pair<plan::FactId, std::string>, FactValue> of_players;
    std::optional<Checkpoint> checkpoint;
    bool operator==(const KeptStore&) const = default;
};
KeptStore kept_store(const plan::Plan& plan, const SavedStore& store,
                     const std::vector<std::string>& players);
SavedStore saved_store(const plan::Plan& plan, const KeptStore& kept,
                       const std::vector<std::string>& players);

/// A fact's value in a plan as one number.
FactValue fact_value(const plan::Value& value);

/// And the other way round: that sets a fact to it.
plan::Assignment assignment_of(const plan::Plan& plan, plan::FactId fact, FactValue value);

/// Which facts were asked about, or changed: their values now, and those in the saved store.
struct FactsAsked {
    std::vector<FactSlot> now;
    std::vector<FactSlot> saved;
};

/// The values of all facts, and the saved store.
class Facts {
public:
    /// Facts of lifetime `saved` begin as `saved` has them, all others with their initial values.
    Facts(const plan::Plan& plan, std::size_t players, std::optional<SavedStore> saved);

    [[nodiscard]] const FactSlots& slots() const { return slots_; }
    /// A fact's value for a player; unset: for the first, where each has its own.
    [[nodiscard]] FactValue value(plan::FactId fact, PlayerId player) const {
        const FactSlot slot = slots_.of(fact, player);
        ask(slot);
        return values_[slot];
    }
    [[nodiscard]] const FactValues& all() const { return values_; }
    /// By fact, as they are for a player.
    [[nodiscard]] std::vector<FactValue> all_for(PlayerId player) const;

    /// What an assignment did.
    struct Assigned {
        bool changed = false;
        bool kept_at_bound = false; ///< it was out of the fact's range
    };
    Assigned assign(const plan::Assignment& assignment, FactSlot slot);
    /// Back to the initial value; whether that changed it.
    bool reset(FactSlot slot);

    void save(const std::optional<Checkpoint>& checkpoint);
    /// The facts that changed; nothing where nothing was ever saved. The checkpoint is the
    /// caller's.
    std::optional<std::vector<FactSlot>> restore();

    [[nodiscard]] const std::optional<SavedStore>& saved() const { return saved_; }

    // For who goes from situation to situation.

    /// From now on writes into `asked` what is asked about, a fact as often as it is.
    void record(FactsAsked* asked) { asked_ = asked; }
    void resume(FactSlot slot, FactValue value) { values_[slot] = value; }
    void resume_saved(std::optional<SavedStore> saved) { saved_ = std::move(saved); }

private:
    void ask(FactSlot slot) const {
        if (asked_ != nullptr) asked_->now.push_back(slot);
    }
    [[nodiscard]] const plan::Fact& fact(FactSlot slot) const {
        return plan_->facts[slots_.fact(slot)];
    }
    const plan::Plan* plan_;
    FactSlots slots_;
    FactValues values_;
    std::optional<SavedStore> saved_;
    FactsAsked* asked_ = nullptr;
};

} // namespace hestrel::flow
