#pragma once
// Residency over situations: levels down, the places where players can stand across, and whether
// each level is there always, sometimes or never while a player stands at that place.

#include "explore/explorer.hpp"
#include "figure/sheet.hpp"

#include <string>
#include <vector>

namespace hestrel::figure {

/// The data of the figure.
struct SituationsResidency {
    /// Places at which it is the same for every level shown.
    struct Column {
        std::string name;
        std::vector<plan::WaypointId> places; ///< unset: nowhere
        std::uint64_t situations = 0;         ///< with a player at one of them
    };
    struct Cell {
        std::uint64_t loaded = 0; ///< situations, the level loaded
        std::uint64_t shown = 0;
    };
    struct Row {
        std::string name;
        std::vector<plan::LevelId> levels; ///< more than one: lumped, the most of any
        std::vector<Cell> cells;           ///< by column
    };
    std::vector<Column> columns;
    std::vector<Row> rows;
};
constexpr std::size_t most_situations_rows = 44;
constexpr std::size_t most_situations_columns = 48;

/// Levels that are ever there, and places where a player ever stands, in plan order. Of more
/// levels than fit, those that differ most from place to place stay; of more places, the first.
SituationsResidency situations_residency(const explore::Explorer& explorer);

Figure situations_figure(const explore::Explorer& explorer, const SituationsResidency& residency);

} // namespace hestrel::figure
