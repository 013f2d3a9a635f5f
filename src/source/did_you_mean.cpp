#include "source/did_you_mean.hpp"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <vector>

namespace hestrel::source {

namespace {

/// Rows of the table that `distance` fills, kept from one comparison to the next.
struct Rows {
    std::vector<std::size_t> before, last, row;
};

/// Edits from `one` to `other`; more than `most` is told as `most + 1`.
std::size_t distance(std::string_view one, std::string_view other, std::size_t most, Rows& rows) {
    const std::size_t difference =
        std::max(one.size(), other.size()) - std::min(one.size(), other.size());
    if (difference > most) return most + 1;
    auto& [before, last, row] = rows;
    for (auto* each : {&before, &last, &row}) each->resize(other.size() + 1);
    for (std::size_t j = 0; j <= other.size(); ++j) last[j] = j;
    for (std::size_t i = 1; i <= one.size(); ++i) {
        row[0] = i;
        std::size_t least = i;
        for (std::size_t j = 1; j <= other.size(); ++j) {
            const std::size_t change = last[j - 1] + (one[i - 1] == other[j - 1] ? 0 : 1);
            row[j] = std::min({last[j] + 1, row[j - 1] + 1, change});
            const bool swapped =
                i > 1 && j > 1 && one[i - 1] == other[j - 2] && one[i - 2] == other[j - 1];
            if (swapped) row[j] = std::min(row[j], before[j - 2] + 1);
            least = std::min(least, row[j]);
        }
        // A swap comes from two rows before and costs one more than what stands there.
        if (least > most + 1) return most + 1;
        std::swap(before, last);
        std::swap(last, row);
    }
    return std::min(last[other.size()], most + 1);
}

} // namespace

bool differs_only_in_capitals(std::string_view one, std::string_view other) {
    const auto lower = [](char c) { return std::tolower(static_cast<unsigned char>(c)); };
    return one != other && std::equal(one.begin(), one.end(), other.begin(), other.end(),
                                      [&](char a, char b) { return lower(a) == lower(b); });
}

std::string_view nearest(std::string_view wrong, std::span<const std::string_view> candidates) {
    std::size_t most = std::max<std::size_t>(1, wrong.size() / 3);
    std::string_view best;
    Rows rows;
    for (const std::string_view candidate : candidates) {
        if (differs_only_in_capitals(wrong, candidate)) return candidate;
        const std::size_t edits = distance(wrong, candidate, most, rows);
        if (edits > most || (edits == most && !best.empty())) continue;
        best = candidate;
        most = edits;
    }
    return best;
}

std::string capitals_hint(std::string_view right) {
    return right.empty() ? std::string()
                         : fmt::format("; it differs from \"{}\" only in capitals", right);
}

std::string_view SmallLetters::find(std::string_view wrong,
                                    std::span<const std::string_view> names) {
    const auto small = [](std::string_view name) {
        std::string letters(name);
        for (char& c : letters) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        return letters;
    };
    for (; known_ < names.size(); ++known_) names_.try_emplace(small(names[known_]), names[known_]);
    const auto found = names_.find(small(wrong));
    return found == names_.end() ? std::string_view() : found->second;
}

std::string hint(std::string_view wrong, std::span<const std::string_view> candidates) {
    const std::string_view right = nearest(wrong, candidates);
    if (right.empty()) return {};
    if (differs_only_in_capitals(wrong, right)) return capitals_hint(right);
    return meant_hint(right);
}

std::string hint_by_parts(std::string_view wrong, std::span<const std::string_view> candidates) {
    if (std::string whole = hint(wrong, candidates); !whole.empty()) return whole;
    std::vector<std::string_view> plain;
    for (const std::string_view each : candidates)
        plain.push_back(each.substr(each.rfind('.') + 1)); // npos + 1 is 0
    const std::string_view right = nearest(wrong, plain);
    if (right.empty()) return {};
    const auto found = std::find_if(plain.begin(), plain.end(), [&](const std::string_view each) {
        return each.data() == right.data();
    });
    return meant_hint(candidates[static_cast<std::size_t>(found - plain.begin())]);
}

std::string meant_hint(std::string_view right) {
    return fmt::format("; did you mean \"{}\"?", right);
}

std::optional<Slip> slip_in(std::string_view message) {
    for (const auto& hint_of : {&meant_hint, &capitals_hint}) {
        // A hint with a name, cut where the name stands.
        const std::string whole = hint_of("x");
        const std::size_t name = whole.find("\"x\"") + 1;
        const std::string_view before = std::string_view(whole).substr(0, name);
        const std::string_view behind = std::string_view(whole).substr(name + 1);
        const std::size_t from = message.rfind(before);
        if (from == std::string_view::npos) continue;
        const std::string_view rest = message.substr(from + before.size());
        const std::size_t end = rest.find(behind);
        const std::size_t closes = message.rfind('"', from);
        if (end == std::string_view::npos || closes == std::string_view::npos || closes == 0)
            continue;
        const std::size_t opens = message.rfind('"', closes - 1);
        if (opens == std::string_view::npos) continue;
        return Slip{message.substr(opens + 1, closes - opens - 1), rest.substr(0, end)};
    }
    return std::nullopt;
}

} // namespace hestrel::source
