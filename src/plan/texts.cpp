#include "plan/texts.hpp"

#include <array>
#include <charconv>

namespace hestrel::plan {

namespace {

std::string fixed(double value, int decimals) {
    std::array<char, 64> text{};
    const auto written = std::to_chars(text.data(), text.data() + text.size(), value,
                                       std::chars_format::fixed, decimals);
    return {text.data(), written.ptr};
}

std::string group(std::string digits) {
    const std::size_t sign = digits.front() == '-' ? 1 : 0;
    for (std::size_t at = digits.size(); at > sign + 3;) {
        at -= 3;
        digits.insert(at, ",");
    }
    return digits;
}

} // namespace

std::string short_time(Micros time) {
    if (time.count == 0) return "0 s";
    if (time.count < 1'000'000 && time.count > -1'000'000)
        return fixed(static_cast<double>(time.count) / 1e3, 0) + " ms";
    return fixed(in_seconds(time), 2) + " s";
}

std::string short_mebibytes(Bytes size) {
    return group(fixed(in_mebibytes(size), 0));
}

std::string short_memory(Bytes size) {
    return short_mebibytes(size) + " MiB";
}

std::string frame_time(Micros time) {
    return fixed(in_seconds(time) * 1e3, 1) + " ms";
}

std::string plain_number(double number) {
    std::string text = fixed(number, 2);
    while (text.back() == '0') text.pop_back();
    if (text.back() == '.') text.pop_back();
    return text;
}

std::string grouped(std::uint64_t number) {
    return group(std::to_string(number));
}

std::string counted(std::size_t count, std::string_view thing) {
    return grouped(count) + " " + std::string(thing) + (count == 1 ? "" : "s");
}

} // namespace hestrel::plan
