#pragma once
// What exploring is to find: a condition, asked of situations as of a route (docs/model.md section
// 6), and about how many moves away it is.

#include "explore/bounds.hpp"
#include "explore/packed.hpp"
#include "flow/conditions.hpp"

#include <cstdint>
#include <unordered_map>
#include <vector>

namespace hestrel::explore {

/// A condition that is looked for. The game itself is not asked: a situation is.
class Goal {
public:
    /// `bounds` by device, for `memory`. All outlive it.
    Goal(const plan::Plan& plan, plan::ConditionId condition, Packed& packed,
         const std::vector<Bounds>& bounds);

    /// About how many moves are missing from a situation; 0 exactly where the condition holds, on
    /// any device.
    [[nodiscard]] std::uint32_t missing(const Word* row);
    /// The first device (of the options) on which it holds; all the same where it does not ask for
    /// memory.
    [[nodiscard]] std::size_t holds_on(const Word* row);
    [[nodiscard]] bool asks_for_memory() const { return asks_for_memory_; }

private:
    /// A situation, as conditions ask about it.
    class Situation;

    [[nodiscard]] std::uint32_t missing(const Situation& situation) const;
    [[nodiscard]] std::uint32_t missing(const std::vector<double>& values, std::uint32_t number,
                                        bool wanted, const Situation& situation) const;
    [[nodiscard]] std::uint32_t until_compared(const std::vector<double>& values,
                                               const plan::Term& term, bool wanted) const;
    [[nodiscard]] std::uint32_t until_there(const plan::Term& term,
                                            const Situation& situation) const;
    [[nodiscard]] std::vector<double> measured(const Word* row);
    [[nodiscard]] const std::vector<double>& memory_in(const Word* row);
    void measure_ways();
    void measure_levels();

    const plan::Plan* plan_;
    const plan::Condition* condition_;
    Packed* packed_;
    const std::vector<Bounds>* bounds_;
    bool asks_for_memory_ = false;
    double largest_ = 1; ///< level, MiB: about what one more takes
    /// By term that asks for a place: how many paths lead there from each waypoint.
    std::vector<std::vector<std::uint32_t>> paths_to_;
    std::unordered_map<Word, std::vector<double>> memory_; ///< MiB by device, by levels and control
    std::vector<double> here_;                             ///< the same, of one situation
    std::vector<double> not_asked_{0};
};

} // namespace hestrel::explore
