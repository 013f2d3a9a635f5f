#include "tables/least_table.hpp"

#include <array>

namespace hestrel::tables {

Columns<advise::Least> least_columns(const plan::Plan& plan) {
    using advise::Least;
    static constexpr std::array<const char*, 3> figures{"read rate", "unpack rate", "memory"};
    return {
        {"route", [&plan](const Least& each) { return plan.routes[each.route].name; }},
        {"device", [&plan](const Least& each) { return plan.devices[each.device].name; }},
        {"figure",
         [](const Least& each) { return figures.at(static_cast<std::size_t>(each.figure)); }},
        {"unit",
         [](const Least& each) { return each.figure == advise::Figure::memory ? "MiB" : "MiB/s"; }},
        {"now", [](const Least& each) { return each.now; }, true},
        {"least", [](const Least& each) { return each.least ? Cell(*each.least) : Cell("none"); },
         true},
        {"below_it",
         [](const Least& each) {
             const bool breaks = each.breaks != walk::Verdict::fine;
             return breaks ? Cell(plan::name_of(each.breaks)) : Cell();
         }},
        {"first", [](const Least& each) {
             return each.first ? Cell(each.first->name + ": " + each.first->message) : Cell();
         }}};
}

} // namespace hestrel::tables
