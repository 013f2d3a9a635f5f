#pragma once
// What the game remembers: facts with their lifetimes, the checkpoint, the saved store
// (docs/model.md section 6).

#include "plan/plan.hpp"

#include <cstdint>
#include <optional>
#include <vector>

namespace hestrel::flow {

/// A fact's value as one number: 0 or 1; the number itself; the word's index.
using FactValue = std::int64_t;

using plan::Checkpoint;

/// What is kept between sessions.
struct SavedStore {
    std::vector<FactValue> facts; ///< by fact; only those of lifetime `saved` count
    std::optional<Checkpoint> checkpoint;
    bool operator==(const SavedStore&) const = default;
};

/// A fact's value in a plan as one number.
FactValue fact_value(const plan::Value& value);

/// And the other way round: that sets a fact to it.
plan::Assignment assignment_of(const plan::Plan& plan, plan::FactId fact, FactValue value);

/// Which facts were asked about, or changed: their values now, and those in the saved store.
struct FactsAsked {
    std::vector<plan::FactId> now;
    std::vector<plan::FactId> saved;
};

/// The values of all facts, and the saved store.
class Facts {
public:
    /// Facts of lifetime `saved` begin as `saved` has them, all others with their initial values.
    Facts(const plan::Plan& plan, std::optional<SavedStore> saved);

    [[nodiscard]] FactValue operator[](plan::FactId fact) const {
        ask(fact);
        return values_[fact];
    }
    [[nodiscard]] const plan::Table<plan::FactId, FactValue>& all() const { return values_; }

    /// What an assignment did.
    struct Assigned {
        bool changed = false;
        bool kept_at_bound = false; ///< it was out of the fact's range
    };
    Assigned assign(const plan::Assignment& assignment);
    /// Back to the initial value; whether that changed it.
    bool reset(plan::FactId fact);

    void save(const std::optional<Checkpoint>& checkpoint);
    /// The facts that changed; nothing where nothing was ever saved. The checkpoint is the
    /// caller's.
    std::optional<std::vector<plan::FactId>> restore();

    [[nodiscard]] const std::optional<SavedStore>& saved() const { return saved_; }

    // For who goes from situation to situation.

    /// From now on writes into `asked` what is asked about, a fact as often as it is.
    void record(FactsAsked* asked) { asked_ = asked; }
    void resume(plan::FactId fact, FactValue value) { values_[fact] = value; }
    void resume_saved(std::optional<SavedStore> saved) { saved_ = std::move(saved); }

private:
    void ask(plan::FactId fact) const {
        if (asked_ != nullptr) asked_->now.push_back(fact);
    }
    const plan::Plan* plan_;
    plan::Table<plan::FactId, FactValue> values_;
    std::optional<SavedStore> saved_;
    FactsAsked* asked_ = nullptr;
};

} // namespace hestrel::flow
