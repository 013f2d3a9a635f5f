#pragma once
// Quantities of the plan language: a number in the base unit, or a string with a unit
// (docs/model.md section 2).

#include "plan/plan.hpp"
#include "plan/units.hpp"

#include <string>
#include <string_view>
#include <variant>

namespace hestrel::source {

/// The kinds of quantity, each with its base unit.
enum class Quantity : std::uint8_t { memory, time, distance, data_rate, speed, share };

/// Either a value or what is wrong with the text, as the end of a sentence: "has no unit \"GB\" …".
template <class T>
using Parsed = std::variant<T, std::string>;

/// A plain decimal number (YAML core schema); refuses NaN, infinities and anything else.
Parsed<double> parse_number(std::string_view text);

/// A quantity in its base unit (MiB, s, m, MiB/s, m/s, 1). Example: "8 ms" as time gives 0.008.
Parsed<double> parse_quantity(std::string_view text, Quantity kind);

/// Memory, 0 to 1 TiB, to the nearest byte.
Parsed<plan::Bytes> parse_memory(std::string_view text);
/// The same, or a range such as `80..140` or `80..140 kB`; a single size is a range of one.
Parsed<plan::SizeRange> parse_memory_range(std::string_view text);
/// A duration, 0 to 10^7 s, to the nearest microsecond.
Parsed<plan::Micros> parse_time(std::string_view text);
/// The same, or a range such as `2..5 s`; a single duration is a range of one.
Parsed<plan::TimeRange> parse_time_range(std::string_view text);
/// A cost per object, 0 to 1 s, to the nearest nanosecond.
Parsed<plan::NanosPerObject> parse_time_per_object(std::string_view text);
/// A data rate, from 1 KiB/s to 16 TiB/s.
Parsed<plan::ByteRate> parse_data_rate(std::string_view text);
/// A speed in m/s, above 0 up to 10^5.
Parsed<double> parse_speed(std::string_view text);
/// A coordinate or distance in metres, at most 10^7 either way.
Parsed<double> parse_distance(std::string_view text);

/// A distance from 0 to 10^7 m.
Parsed<double> parse_length(std::string_view text);
/// A share from 0 to 1.
Parsed<double> parse_share(std::string_view text);

/// The other way: with no more decimals than say the number to a ten-millionth.
std::string exact_number(double number);
/// MiB with as few decimals as say the very same number of bytes.
std::string exact_mebibytes(plan::Bytes size);
/// `180`, or `80..140` of a range.
std::string exact_mebibytes(const plan::SizeRange& size);

} // namespace hestrel::source
