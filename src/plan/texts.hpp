#pragma once
// Figures for people, in messages, summaries and figures: one form for each.

#include "plan/units.hpp"

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

namespace hestrel::plan {

/// "33 ms", "12.50 s", "0 s"; the sign in front.
std::string short_time(Micros time);
/// MiB: "140", "1,312"; with the unit behind it: "1,312 MiB".
std::string short_mebibytes(Bytes size);
std::string short_memory(Bytes size);
/// With two decimals at most: "3", "4.5", "1312.25".
std::string plain_number(double number);
/// What a frame takes, to a tenth of a millisecond: "33.8 ms".
std::string frame_time(Micros time);
/// With thousands apart: "1,312".
std::string grouped(std::uint64_t number);
/// "1 gap", "2,000 gaps".
std::string counted(std::size_t count, std::string_view thing);

} // namespace hestrel::plan
