#pragma once
// Players of one kind who are told apart by nothing (docs/model.md section 8): situations that
// differ by exchanging them are one, the one in which they stand in order.
//
// That is right as long as a move does the same to exchanged players, exchanged. It does, but where
// two of them may do something at the same moment, and the first goes first; whoever explores is
// told of that (Game::order_did_matter), and begins anew with players told apart.

#include "explore/interned.hpp"
#include "explore/layout.hpp"
#include "flow/state.hpp"

#include <map>
#include <vector>

namespace hestrel::explore {

class AlikePlayers {
public:
    /// `told_apart`: nobody is alike. All outlive it.
    AlikePlayers(const plan::Plan& plan, const std::vector<plan::PlayerKindId>& kinds,
                 const Layout& layout, Interned<flow::State>& controls, bool told_apart);

    /// Whether anybody is.
    [[nodiscard]] bool any() const { return !groups_.empty(); }
    /// Puts those who are alike in order.
    void sort(Word* row) {
        const std::vector<std::uint32_t>& told = told_by_row(row);
        if (!in_order(row, told)) exchange(row, order_of(row, told));
    }
    /// The same; false, and nothing is changed, where something had to be learnt for that.
    [[nodiscard]] bool sort_known(Word* row) const;
    /// Those who could stand for a player just now, itself among them.
    [[nodiscard]] std::vector<std::uint32_t> same_as(const Word* row, std::uint32_t player);
    /// As `sort`; who stands where from now on: by place, who it was before.
    std::vector<std::uint32_t> sort_told(Word* row);

private:
    /// What a control says of each player that it does not say of others: players of whom it says
    /// the same have the same number.
    const std::vector<std::uint32_t>& told_by(std::uint32_t control);
    [[nodiscard]] int compare(const Word* row, const std::vector<std::uint32_t>& told,
                              std::uint32_t one, std::uint32_t other) const;
    [[nodiscard]] bool in_order(const Word* row, const std::vector<std::uint32_t>& told) const;
    /// Everybody where they are.
    [[nodiscard]] std::vector<std::uint32_t> unchanged() const;
    [[nodiscard]] std::vector<std::uint32_t> order_of(const Word* row,
                                                      const std::vector<std::uint32_t>& told) const;
    void exchange_fields(Word* row, const std::vector<std::uint32_t>& from) const;
    void exchange(Word* row, const std::vector<std::uint32_t>& from);
    [[nodiscard]] const std::vector<std::uint32_t>& told_by_row(const Word* row) {
        return told_by(static_cast<std::uint32_t>(control_.get(row)));
    }
    std::uint32_t control_after(std::uint32_t control, const std::vector<std::uint32_t>& from);

    Interned<flow::State>* controls_;
    Field control_;
    std::size_t players_;
    std::vector<std::vector<std::uint32_t>> groups_; ///< two or more who are alike
    std::vector<std::vector<Field>> fields_;         ///< of each player: where it is, its facts
    std::vector<std::vector<std::uint32_t>> told_;   ///< by control; empty where not known yet
    std::map<std::pair<std::uint32_t, std::vector<std::uint32_t>>, std::uint32_t> exchanged_;
};

} // namespace hestrel::explore
