#pragma once
// What the game's keeper knows of the levels on another machine (docs/model.md section 11): what it
// has told that machine at once, what the machine tells when that arrives.

#include "flow/stage.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <functional>
#include <set>
#include <vector>

namespace hestrel::walk {

/// Orders to one machine, numbered from 1 in the order in which they are sent.
using OrderNumber = std::uint64_t;

/// One machine's levels, as its keeper takes them to be.
class KnownLevels {
public:
    explicit KnownLevels(std::size_t levels) : levels_(levels) {}

    // What is told; what changes by that is appended to `events`.

    void tell_asked(plan::LevelId level, OrderNumber order);
    void tell_hidden(plan::LevelId level, OrderNumber order, std::vector<flow::LevelEvent>& events);
    void tell_unloaded(plan::LevelId level, OrderNumber order,
                       std::vector<flow::LevelEvent>& events);

    /// The machine says that a level changed, after it had carried out `carried_out` orders. True
    /// where that is news: what it sent before it was told to hide or unload the level counts no
    /// more.
    bool learn(plan::LevelId level, flow::LevelChange change, OrderNumber carried_out);

    [[nodiscard]] bool shown(plan::LevelId level) const { return levels_[level].shown; }
    [[nodiscard]] bool ready(plan::LevelId level) const { return levels_[level].ready; }
    /// It was ready before that order reached the machine.
    [[nodiscard]] bool ready_before(plan::LevelId level, OrderNumber order) const {
        return levels_[level].ready && levels_[level].ready_after < order;
    }
    [[nodiscard]] const std::set<plan::LevelId>& asked() const { return asked_; }

private:
    struct Known {
        bool ready = false;
        bool shown = false;
        OrderNumber ready_after = 0; ///< orders that were carried out before it was
        OrderNumber asked_by = 0;    ///< the last that asked for it
        OrderNumber hidden_by = 0;   ///< and that hid it
        OrderNumber unloaded_by = 0;
    };
    plan::Table<plan::LevelId, Known> levels_;
    std::set<plan::LevelId> asked_;
};

} // namespace hestrel::walk
