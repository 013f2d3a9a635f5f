#pragma once
// Memory in a situation, and how much can be in use during a move (docs/model.md sections 4 and 8).

#include "explore/situation.hpp"
#include "loading/catalogue.hpp"
#include "loading/memory_use.hpp"

#include <vector>

namespace hestrel::explore {

using Use = loading::MemoryUse;

/// Of one device, with so many players.
class Bounds {
public:
    Bounds(const plan::Plan& plan, plan::DeviceId device,
           const std::vector<plan::PlayerKindId>& players);

    /// With everything settled, and what is not needed released. Where players hurry: with what is
    /// on its way as if it were read, and what leaves.
    [[nodiscard]] Use settled(const std::vector<LevelThere>& levels,
                              const std::vector<plan::VeilId>& veils) const;

    /// No unhurried walk of a move that begins so uses more at any moment. What a list asks for is
    /// held from then on; what is unloaded is held until all has settled, unless a switch releases
    /// it; of what was asked for, as many as there are workers also hold what was read.
    [[nodiscard]] Use during(const std::vector<LevelThere>& levels,
                             const std::vector<plan::VeilId>& veils, const MoveLog& log) const;

private:
    [[nodiscard]] Use with_veils(const std::vector<plan::VeilId>& veils) const;
    [[nodiscard]] std::vector<plan::Bytes> memory_of(plan::VeilId veil) const;

    const plan::Plan* plan_;
    loading::Catalogue catalogue_;
    Use always_; ///< base and players
};

} // namespace hestrel::explore
