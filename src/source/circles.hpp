// Circles among things that lead to one another, as kits that need kits.
#pragma once

#include "plan/ids.hpp"

#include <algorithm>
#include <cstdint>
#include <span>
#include <vector>

namespace hestrel::source {

/// Of things 0 to `count`, of which `leads_to(id, n)` tells where the n-th way from one leads
/// (unset: there is none): calls `circle(way, n)` for each that leads back to where one came from.
/// `way` is that circle from where it begins; the n-th way from its last closes it.
template <class Id, class LeadsTo, class Circle>
void for_circles(std::size_t count, const LeadsTo& leads_to, const Circle& circle) {
    enum class Visit : std::uint8_t { not_yet, on_the_way, done };
    plan::Table<Id, Visit> visits(count, Visit::not_yet);
    std::vector<Id> way;
    std::vector<std::size_t> next; // of what each on the way leads to
    const auto enter = [&](Id id) {
        visits[id] = Visit::on_the_way;
        way.push_back(id);
        next.push_back(0);
    };
    for (const Id start : visits.ids()) {
        if (visits[start] == Visit::not_yet) enter(start);
        while (!way.empty()) {
            const std::size_t by = next.back()++;
            const Id id = leads_to(way.back(), by);
            if (!id) {
                visits[way.back()] = Visit::done;
                way.pop_back();
                next.pop_back();
                continue;
            }
            if (visits[id] == Visit::not_yet) {
                enter(id);
            } else if (visits[id] == Visit::on_the_way) {
                circle(std::span<const Id>(std::find(way.begin(), way.end(), id), way.end()), by);
            }
        }
    }
}

} // namespace hestrel::source
