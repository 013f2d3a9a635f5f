#include "report/walk_words.hpp"

#include "tables/walk_tables.hpp"
#include "tables/words.hpp"
#include "walk/summary.hpp"

#include <fmt/format.h>

namespace hestrel::report {

using tables::short_time;

std::string share_of_budget(const plan::Plan& plan, const walk::Record& record) {
    const plan::Bytes budget = plan.devices[record.device].memory.total;
    if (budget.count == 0) return "-";
    return fmt::format("{:.0f}%", 100.0 * static_cast<double>(record.peak.count) /
                                      static_cast<double>(budget.count));
}

std::string slack_text(const std::optional<plan::Micros>& slack) {
    if (!slack) return "-";
    return (slack->count > 0 ? "+" : "") + short_time(*slack);
}

std::string sort_key(const std::optional<plan::Micros>& time) {
    return time ? std::to_string(time->count) : std::string();
}

std::string summary_of(const plan::Plan& plan, const walk::Record& record) {
    std::string text = fmt::format(
        "Boot {}. Peak {} of {} ({}), at {}. Least slack {}. {}.",
        record.boot ? short_time(*record.boot) : "never ends", tables::short_mebibytes(record.peak),
        tables::short_memory(plan.devices[record.device].memory.total),
        share_of_budget(plan, record), short_time(record.peak_at),
        slack_text(walk::worst_slack(record)),
        record.gaps.empty() ? "No gaps" : "Gaps of " + short_time(walk::gap_time(record)));
    text += fmt::format(" Under veils {}, stalled {}.", short_time(record.shares.veiled),
                        short_time(record.shares.stalled));
    if (record.stuck)
        text += fmt::format(" Stuck at {}: {}.", short_time(record.stuck->since),
                            tables::stuck_text(plan, record));
    return text;
}

} // namespace hestrel::report
