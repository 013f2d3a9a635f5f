#include "source/quantities.hpp"

#include <array>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <span>

namespace hestrel::source {

namespace {

struct Unit {
    std::string_view name;
    double factor; ///< how many base units it is
};

constexpr double mebibyte = 1048576.0;
constexpr std::array memory_units{Unit{"KiB", 1.0 / 1024},    Unit{"MiB", 1},
                                  Unit{"GiB", 1024},          Unit{"kB", 1e3 / mebibyte},
                                  Unit{"MB", 1e6 / mebibyte}, Unit{"GB", 1e9 / mebibyte}};
constexpr std::array time_units{Unit{"us", 1e-6}, Unit{"ms", 1e-3}, Unit{"s", 1}, Unit{"min", 60}};
constexpr std::array distance_units{Unit{"cm", 0.01}, Unit{"m", 1}, Unit{"km", 1000}};
constexpr std::array rate_units{Unit{"MiB/s", 1}, Unit{"MB/s", 1e6 / mebibyte}, Unit{"GiB/s", 1024},
                                Unit{"GB/s", 1e9 / mebibyte}};
constexpr std::array speed_units{Unit{"m/s", 1}, Unit{"km/h", 1 / 3.6}};
constexpr std::array share_units{Unit{"%", 0.01}};

std::span<const Unit> units_of(Quantity kind) {
    switch (kind) {
    case Quantity::memory: return memory_units;
    case Quantity::time: return time_units;
    case Quantity::distance: return distance_units;
    case Quantity::data_rate: return rate_units;
    case Quantity::speed: return speed_units;
    case Quantity::share: return share_units;
    }
    return {};
}

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
    return text;
}

/// Where a decimal number at the start of `text` ends; 0 where there is none. No hex, NaN or
/// infinity.
std::size_t number_length(std::string_view text) {
    const auto digits = [&](std::size_t at) {
        while (at < text.size() && text[at] >= '0' && text[at] <= '9') ++at;
        return at;
    };
    const std::size_t start = !text.empty() && (text[0] == '-' || text[0] == '+') ? 1 : 0;
    std::size_t end = digits(start);
    std::size_t count = end - start;
    // The two dots of a range are no decimal point.
    if (end < text.size() && text[end] == '.' && text.substr(end, 2) != "..") {
        const std::size_t fraction = digits(end + 1);
        count += fraction - end - 1;
        end = fraction;
    }
    if (count == 0) return 0;
    if (end < text.size() && (text[end] == 'e' || text[end] == 'E')) {
        std::size_t exponent = end + 1;
        if (exponent < text.size() && (text[exponent] == '-' || text[exponent] == '+')) ++exponent;
        if (digits(exponent) > exponent) end = digits(exponent);
    }
    return end;
}

Parsed<double> number_at_start(std::string_view text, std::size_t length) {
    if (length == 0) return std::string("is not a number");
    if (text[0] == '+') {
        text.remove_prefix(1);
        --length;
    }
    double number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + length, number);
    if (error == std::errc::result_out_of_range)
        return std::string("is a number that is too large or too small");
    if (error != std::errc() || !std::isfinite(number)) return std::string("is not a number");
    return number;
}

/// Parses, checks the bounds (in base units) and converts.
template <class T, class Convert>
Parsed<T> bounded(std::string_view text, Quantity kind, double least, double most,
                  std::string_view bounds, Convert convert) {
    const Parsed<double> parsed = parse_quantity(text, kind);
    if (const auto* problem = std::get_if<std::string>(&parsed)) return *problem;
    const double value = std::get<double>(parsed);
    if (value < least || value > most) return fmt::format("must be {}", bounds);
    return convert(value);
}

/// A single quantity, or `low..high` with the unit of both behind the high end.
template <class Range, class T>
Parsed<Range> range_of(std::string_view text, Parsed<T> (*parse)(std::string_view)) {
    const std::size_t dots = text.find("..");
    if (dots == std::string_view::npos) {
        const Parsed<T> parsed = parse(text);
        if (const auto* problem = std::get_if<std::string>(&parsed)) return *problem;
        return Range{std::get<T>(parsed), std::get<T>(parsed)};
    }
    std::string low(trimmed(text.substr(0, dots)));
    const std::string_view high = trimmed(text.substr(dots + 2));
    if (number_length(low) == low.size())
        low += high.substr(number_length(high)); // the unit of both
    const Parsed<T> from = parse(low);
    const Parsed<T> to = parse(high);
    if (const auto* problem = std::get_if<std::string>(&from)) return *problem;
    if (const auto* problem = std::get_if<std::string>(&to)) return *problem;
    const Range range{std::get<T>(from), std::get<T>(to)};
    if (range.high < range.low) return std::string("is a range whose high end comes first");
    return range;
}

} // namespace

Parsed<double> parse_number(std::string_view text) {
    if (number_length(text) != text.size()) return std::string("is not a number");
    return number_at_start(text, text.size());
}

Parsed<double> parse_quantity(std::string_view text, Quantity kind) {
    text = trimmed(text);
    const std::size_t length = number_length(text);
    Parsed<double> number = number_at_start(text, length);
    if (std::holds_alternative<std::string>(number)) return number;
    const std::string_view unit = trimmed(text.substr(length));
    if (unit.empty()) return number;
    std::string known;
    for (const Unit& each : units_of(kind)) {
        if (each.name == unit) return std::get<double>(number) * each.factor;
        known += fmt::format("{}{}", known.empty() ? "" : ", ", each.name);
    }
    return fmt::format("has the unit \"{}\"; known here: {}", unit, known);
}

Parsed<plan::Bytes> parse_memory(std::string_view text) {
    return bounded<plan::Bytes>(
        text, Quantity::memory, 0, mebibyte, "from 0 to 1 TiB",
        [](double mib) { return plan::Bytes{std::llround(mib * mebibyte)}; });
}

Parsed<plan::SizeRange> parse_memory_range(std::string_view text) {
    return range_of<plan::SizeRange, plan::Bytes>(text, &parse_memory);
}

Parsed<plan::Micros> parse_time(std::string_view text) {
    return bounded<plan::Micros>(text, Quantity::time, 0, 1e7, "from 0 to 10000000 s",
                                 [](double s) { return plan::Micros{std::llround(s * 1e6)}; });
}

Parsed<plan::TimeRange> parse_time_range(std::string_view text) {
    return range_of<plan::TimeRange, plan::Micros>(text, &parse_time);
}

Parsed<plan::NanosPerObject> parse_time_per_object(std::string_view text) {
    return bounded<plan::NanosPerObject>(text, Quantity::time, 0, 1, "from 0 to 1 s", [](double s) {
        return plan::NanosPerObject{std::llround(s * 1e9)};
    });
}

Parsed<plan::ByteRate> parse_data_rate(std::string_view text) {
    return bounded<plan::ByteRate>(
        text, Quantity::data_rate, 1.0 / 1024, 16.0 * mebibyte, "from 1 KiB/s to 16 TiB/s",
        [](double rate) { return plan::ByteRate{std::llround(rate * mebibyte)}; });
}

Parsed<double> parse_speed(std::string_view text) {
    return bounded<double>(text, Quantity::speed, 1e-6, 1e5, "above 0 and at most 100000 m/s",
                           [](double speed) { return speed; });
}

Parsed<double> parse_distance(std::string_view text) {
    return bounded<double>(text, Quantity::distance, -1e7, 1e7, "at most 10000 km",
                           [](double metres) { return metres; });
}

Parsed<double> parse_length(std::string_view text) {
    return bounded<double>(text, Quantity::distance, 0, 1e7, "from 0 to 10000 km",
                           [](double metres) { return metres; });
}

Parsed<double> parse_share(std::string_view text) {
    return bounded<double>(text, Quantity::share, 0, 1, "from 0 to 1, or from 0% to 100%",
                           [](double share) { return share; });
}

std::string exact_number(double number) {
    std::string text = fmt::format("{:.7f}", number);
    text.erase(text.find_last_not_of('0') + 1);
    if (text.back() == '.') text.pop_back();
    return text == "-0" ? "0" : text;
}

std::string exact_mebibytes(plan::Bytes size) {
    constexpr int most_decimals = 7;
    for (int decimals = 0; decimals < most_decimals; ++decimals) {
        std::string text = fmt::format("{:.{}f}", plan::in_mebibytes(size), decimals);
        if (std::llround(std::stod(text) * 1048576.0) == size.count) return text;
    }
    return exact_number(plan::in_mebibytes(size));
}

std::string exact_mebibytes(const plan::SizeRange& size) {
    const std::string low = exact_mebibytes(size.low);
    return size.low == size.high ? low : low + ".." + exact_mebibytes(size.high);
}

} // namespace hestrel::source
