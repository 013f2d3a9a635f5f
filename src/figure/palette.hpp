#pragma once
// One palette for every figure, readable with colour blindness (Okabe and Ito's eight, and lighter
// and darker kin); the same thing has the same colour everywhere.

#include <array>
#include <cstddef>
#include <string_view>

namespace hestrel::figure::palette {

constexpr std::string_view base = "#d9d9d9";
constexpr std::string_view players = "#bdbdbd";
constexpr std::string_view others = "#9e9e9e";
constexpr std::string_view staging = "#f0e442";
constexpr std::string_view veils = "#5e4fa2";
constexpr std::string_view budget = "#202020";
constexpr std::string_view overrun = "#c1121f";
constexpr std::string_view transition = "#606060";

/// Levels and kits, in the plan's order among those that a figure shows.
constexpr std::array<std::string_view, 10> pieces{"#0072b2", "#e69f00", "#009e73", "#cc79a7",
                                                  "#56b4e9", "#d55e00", "#7fc8a9", "#8c6d31",
                                                  "#a6bddb", "#f4b6c2"};

} // namespace hestrel::figure::palette
