#include "tables/carries_table.hpp"

#include "plan/names.hpp"

#include <array>

namespace hestrel::tables {

std::string_view carrying_name(flow::Carrying how) {
    static constexpr std::array<std::string_view, 5> names{"kept", "set", "reset", "saved",
                                                           "restored"};
    return names.at(static_cast<std::size_t>(how));
}

Columns<CarryRow> carry_columns(const plan::Plan& plan) {
    const auto value = [&plan](const flow::Carried& each, flow::FactValue of) {
        return plan::value_text(plan, each.fact, of);
    };
    return {
        {"fact", [&plan](const CarryRow& row) { return plan.facts[row.first.fact].name; }},
        {"lifetime",
         [&plan](const CarryRow& row) {
             return plan::name_of(plan.facts[row.first.fact].lifetime);
         }},
        {"transition", [&plan](const CarryRow& row) { return flow::name_of(plan, row.first.by); }},
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
