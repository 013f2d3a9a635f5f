#pragma once
// Veils that are up, and for whom (docs/model.md section 6).

#include "flow/stage.hpp"
#include "plan/plan.hpp"

#include <vector>

namespace hestrel::flow {

/// All veils of the plan. Raised twice a veil is one; it is up while it is up for anybody.
class Veils {
public:
    Veils(const plan::Plan& plan, std::size_t players);

    /// Raises it for one player, or (unset) for all. True where it was not up for anybody.
    bool raise(plan::VeilId veil, PlayerId who, plan::Micros now);
    /// Takes it down for one player, or for all. True where it is up for nobody then.
    bool take(plan::VeilId veil, PlayerId who);
    /// How long it has to stay up still; 0: it may be taken down.
    [[nodiscard]] plan::Micros left(plan::VeilId veil, plan::Micros now) const;

    /// All that are up, each with a player it is up for.
    [[nodiscard]] std::vector<std::pair<plan::VeilId, PlayerId>> all_up() const;
    /// Those are up, and no others: raised at time 0, or so long before that their `min` has
    /// passed.
    void resume(const std::vector<std::pair<plan::VeilId, PlayerId>>& up, bool just_raised);

    [[nodiscard]] bool up(plan::VeilId veil) const { return veils_[veil].count > 0; }
    [[nodiscard]] bool any() const { return up_ > 0; }
    /// Whether it is up for a player.
    [[nodiscard]] bool hides(plan::VeilId veil, PlayerId player) const {
        return veils_[veil].for_player[player.value];
    }
    /// Whether any veil hides the game from a player.
    [[nodiscard]] bool hides_from(PlayerId player) const { return hiding_[player.value] > 0; }

private:
    struct Now {
        std::vector<bool> for_player;
        std::size_t count = 0; ///< players it is up for
        plan::Micros raised;
    };
    const plan::Plan* plan_;
    plan::Table<plan::VeilId, Now> veils_;
    std::vector<std::uint32_t> hiding_; ///< by player: veils that are up for it
    std::size_t up_ = 0;
};

} // namespace hestrel::flow
