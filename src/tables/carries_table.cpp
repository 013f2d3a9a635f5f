#include "tables/carries_table.hpp"

#include "plan/names.hpp"

#include <array>

namespace hestrel::tables {

std::string_view carrying_name(flow::Carrying how) {
    static constexpr std::array<std::string_view, 5> names{"kept", "set", "reset", "saved",
                                                           "restored"};
    return names.at(static_cast<std::size_t>(how));
}

std::string carry_cause(const plan::Plan& plan, const flow::Carried& carried) {
    if (!carried.by.known()) return "launch again";
    if (!carried.by.list) return "far from " + plan.levels[carried.by.near].name;
    return plan::list_name(plan, carried.by.list);
}

Columns<CarryRow> carry_columns(const plan::Plan& plan) {
    static constexpr std::array<const char*, 3> lifetimes{"level", "session", "saved"};
    const auto value = [&plan](const flow::Carried& each, flow::FactValue of) {
        return plan::value_text(plan, each.fact, of);
    };
    return {{"fact", [&plan](const CarryRow& row) { return plan.facts[row.first.fact].name; }},
            {"lifetime",
             [&plan](const CarryRow& row) {
                 const plan::Lifetime lifetime = plan.facts[row.first.fact].lifetime;
                 return lifetimes.at(static_cast<std::size_t>(lifetime));
             }},
            {"transition", [&plan](const CarryRow& row) { return carry_cause(plan, row.first); }},
            {"from", [value](const CarryRow& row) { return value(row.first, row.first.from); }},
            {"to", [value](const CarryRow& row) { return value(row.first, row.first.to); }},
            {"how", [](const CarryRow& row) { return carrying_name(row.first.how); }},
            {"times", [](const CarryRow& row) { return row.second; }, true}};
}

std::string carries_csv(const plan::Plan& plan, const flow::Carries& carries) {
    const std::vector<CarryRow> rows(carries.begin(), carries.end());
    return csv_of(carry_columns(plan), rows);
}

flow::Carries explored_carries(const explore::Explorer& explorer) {
    flow::Carries carries;
    for (const explore::Effect& effect : explorer.effects()) {
        for (const flow::Carried& each : effect.log.carried) ++carries[each];
    }
    return carries;
}

} // namespace hestrel::tables
