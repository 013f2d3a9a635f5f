#pragma once
// One palette for every figure, readable with colour blindness (Okabe and Ito's eight, and lighter
// and darker kin); the same thing has the same colour everywhere.

#include <array>
#include <string_view>

namespace hestrel::figure::palette {

// Paper and ink.
constexpr std::string_view ink = "#202020";   ///< text, axes, the budget
constexpr std::string_view muted = "#595959"; ///< text of less weight
constexpr std::string_view faint = "#e5e5e5"; ///< lines of a grid
constexpr std::string_view paper = "#ffffff";
// Text on what has a colour of its own, which stays as it is where paper and ink change.
constexpr std::string_view on_light = "#1f1f1f";
constexpr std::string_view on_dark = "#fefefe";

// What holds memory.
constexpr std::string_view base = "#d9d9d9";
constexpr std::string_view players = "#bdbdbd";
constexpr std::string_view others = "#9e9e9e";
constexpr std::string_view kits = "#8c6d31";
constexpr std::string_view staging = "#f0e442";
constexpr std::string_view veils = "#5e4fa2";
/// Levels, in the plan's order among those that a figure shows.
constexpr std::array<std::string_view, 9> levels{"#0072b2", "#e69f00", "#009e73",
                                                 "#cc79a7", "#56b4e9", "#d55e00",
                                                 "#7fc8a9", "#a6bddb", "#f4b6c2"};

// What becomes of a piece.
constexpr std::string_view waiting = "#cfcfcf";
constexpr std::string_view reading = staging;
constexpr std::string_view unpacking = "#e69f00";
constexpr std::string_view making = "#009e73";
constexpr std::string_view ready = "#a6d4ec";
constexpr std::string_view attaching = "#cc79a7";
constexpr std::string_view shown = "#0072b2";
constexpr std::string_view shown_less = "#56b4e9"; ///< beside it: not needed, or not always
constexpr std::string_view leaving = "#8f8f8f";
constexpr std::string_view veiled = "#dcd7ec";      ///< a veil is up, behind other things
constexpr std::string_view black = "#1c1c1c";       ///< nothing is seen
constexpr std::string_view behind_veil = "#cfc7e8"; ///< all that is seen is a veil

// What goes wrong, and what holds.
constexpr std::string_view overrun = "#c1121f";
constexpr std::string_view gap = overrun;
constexpr std::string_view stall = "#d55e00";
constexpr std::string_view little_slack = "#b35c00";
constexpr std::string_view enough_slack = "#00795a";

// The world.
constexpr std::string_view area = "#eaf1f6";
constexpr std::string_view cell_shown = "#c5ddea"; ///< of an open world, at any time
constexpr std::string_view cell_edge = "#c2d2dd";
constexpr std::string_view area_edge = "#66869e";
constexpr std::string_view trigger = "#00795a";
constexpr std::string_view path = "#767676";
/// The ways of players.
constexpr std::array<std::string_view, 4> walked{"#0072b2", "#e69f00", "#cc79a7", "#009e73"};

} // namespace hestrel::figure::palette
