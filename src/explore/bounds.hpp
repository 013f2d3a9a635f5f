#pragma once
// Memory and frame time in a situation, and how much they can be during a move (docs/model.md
// sections 4 and 8).

#include "explore/situation.hpp"
#include "loading/catalogue.hpp"
#include "loading/memory_use.hpp"

#include <vector>

namespace hestrel::explore {

/// Memory, and the most work that a frame has for what is shown, no veil up; 0 where none counts.
struct Use : loading::MemoryUse {
    plan::Micros frame;

    void raise_to(const Use& other) {
        MemoryUse::raise_to(other);
        frame = std::max(frame, other.frame);
    }
};

/// Of one device, with so many players.
class Bounds {
public:
    Bounds(const plan::Plan& plan, plan::DeviceId device,
           const std::vector<plan::PlayerKindId>& players);

    /// With everything settled, and what is not needed released. Where players hurry: with what is
    /// on its way as if it were read, and what leaves.
    [[nodiscard]] Use settled(const std::vector<LevelThere>& levels,
                              const std::vector<plan::VeilId>& veils) const;

    /// What a level costs in every frame while it is shown.
    [[nodiscard]] plan::Micros frame_cost(plan::LevelId level) const {
        return catalogue_.levels[level].frame_cost;
    }

    /// No unhurried walk of a move that begins so uses more at any moment. What a list asks for is
    /// held from then on; what is unloaded is held until all has settled, unless a switch releases
    /// it; of what was asked for, as many as there are workers also hold what was read.
    [[nodiscard]] Use during(const std::vector<LevelThere>& levels,
                             const std::vector<plan::VeilId>& veils, const MoveLog& log) const;

private:
    [[nodiscard]] plan::Micros frame_with(const std::vector<plan::LevelId>& shown) const;
    [[nodiscard]] Use with_veils(const std::vector<plan::VeilId>& veils) const;
    [[nodiscard]] std::vector<plan::Bytes> memory_of(plan::VeilId veil) const;

    const plan::Plan* plan_;
    loading::Catalogue catalogue_;
    Use always_; ///< base and players
};

} // namespace hestrel::explore
