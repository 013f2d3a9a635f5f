#include "command/calibration_text.hpp"

#include "command/terminal.hpp"
#include "tables/calibration_tables.hpp"

#include <fmt/format.h>

namespace hestrel::command {

using calibrate::Fitted;

std::string figures_table(std::span<const Fitted> fits) {
    TextTable table({{"figure"},
                     {"value", TextTable::Align::right},
                     {"± standard error", TextTable::Align::right},
                     {"measured", TextTable::Align::right},
                     {"left out", TextTable::Align::right},
                     {"scatter", TextTable::Align::right}});
    for (const tables::DeviceFigure& figure : tables::device_figures(fits)) {
        const Fitted& of = fits[static_cast<std::size_t>(figure.part)];
        table.row({figure.key, figure.value, figure.error, std::to_string(of.samples.size()),
                   std::to_string(of.samples.size() - of.line->used),
                   fmt::format("{:.3g} ms", of.line->scatter * 1e3)});
    }
    return table.text();
}

std::string remarks(std::span<const Fitted> fits) {
    std::string text;
    for (const Fitted& each : fits) {
        const bool is_rare = each.part == calibrate::Part::make; // most content is only read
        if (each.samples.empty() && !is_rare)
            text += fmt::format("{}: nothing was measured\n", name_of(each.part));
        if (!each.refusal.empty())
            text += fmt::format("{}: can't be told: {}\n", name_of(each.part), each.refusal);
        if (each.below_zero && each.line)
            text += fmt::format("{}: what each takes came out below 0, and is taken as 0\n",
                                name_of(each.part));
    }
    return text;
}

} // namespace hestrel::command
