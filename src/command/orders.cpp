#include "command/orders.hpp"

#include "explore/explored.hpp"
#include "explore/first_moves.hpp"
#include "plan/jobs.hpp"

#include <algorithm>

namespace hestrel::command {

namespace {

order::EditionOrder edition_order(const plan::Plan& plan, plan::EditionId edition,
                                  const std::vector<walk::Record>& records, bool keep_positions) {
    order::OrderOptions options;
    options.keep_positions = keep_positions;
    const auto explorable = explore::explorable_editions(plan);
    if (std::find(explorable.begin(), explorable.end(), edition) != explorable.end()) {
        explore::Options exploring;
        exploring.edition = edition;
        exploring.most_situations = situations_for_order;
        explore::Explorer explorer(plan, exploring);
        explorer.run();
        options.moves_until_there = explore::moves_until_there(explorer);
    }
    return order::order_edition(plan, edition, records, options);
}

} // namespace

report::Orders order_all(const plan::Plan& plan, const Ordering& ordering,
                         const std::vector<walk::Record>& records, unsigned jobs,
                         Progress& progress) {
    const auto& editions = ordering.editions;
    const auto& devices = ordering.devices;
    report::Orders orders;
    orders.editions.resize(editions.size());
    std::vector<std::vector<order::TransitionOrder>> transitions(devices.size());
    progress.begin("orders", editions.size() + devices.size());
    plan::in_parallel(editions.size() + devices.size(), jobs, [&](std::size_t i) {
        if (i < editions.size()) {
            orders.editions[i] = edition_order(plan, editions[i], records, ordering.keep_positions);
        } else {
            const std::size_t device = i - editions.size();
            transitions[device] = order::order_transitions(plan, devices[device]);
        }
        progress.one_more();
    });
    for (auto& of_device : transitions)
        orders.transitions.insert(orders.transitions.end(), of_device.begin(), of_device.end());
    progress.begin("orders of parcels", editions.size() * devices.size());
    for (const plan::EditionId edition : editions) {
        for (const plan::DeviceId device : devices) {
            if (auto parcels = order::order_parcels(plan, edition, device, records))
                orders.parcels.push_back(std::move(*parcels));
            progress.one_more();
        }
    }
    return orders;
}

} // namespace hestrel::command
