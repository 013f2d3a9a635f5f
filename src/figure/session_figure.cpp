#include "figure/session_figure.hpp"

#include "figure/frame.hpp"
#include "figure/loads_figure.hpp"
#include "figure/memory_figure.hpp"
#include "tables/words.hpp"
#include "walk/casts.hpp"

#include <algorithm>
#include <fmt/format.h>

namespace hestrel::figure {

using plan::Micros;

namespace {

constexpr double heading_height = 26;
constexpr double orders_height = 22; ///< in which orders are seen on their way
constexpr double memory_height = 120;
constexpr double gap_between = 14;

/// What is drawn of one machine.
struct MachineStrip {
    const walk::Record* record = nullptr;
    LoadRows rows;
    MemoryStack stack;
    std::vector<Swatch> legend;
    double top = 0;
    double loads_top = 0;
    double memory_top = 0;
    double bottom = 0;
    bool headless = false;
};

/// Those of all machines, each once.
void add_legend(std::vector<Swatch>& all, const std::vector<Swatch>& more) {
    for (const Swatch& swatch : more) {
        const bool known = std::any_of(all.begin(), all.end(), [&](const Swatch& each) {
            return each.text == swatch.text && each.colour == swatch.colour;
        });
        if (!known) all.push_back(swatch);
    }
}

MachineStrip strip_of(const plan::Plan& plan, const walk::Record& record) {
    MachineStrip strip;
    strip.record = &record;
    strip.headless = walk::is_headless(plan, record);
    if (strip.headless) return strip;
    strip.rows = load_rows(plan, record);
    strip.stack = memory_stack(plan, record);
    strip.legend = loads_legend(record, strip.rows);
    add_legend(strip.legend, memory_legend(plan, record, strip.stack));
    return strip;
}

/// Where each begins and ends; returns the bottom of the last.
double lay_out(std::vector<MachineStrip>& strips, double top) {
    for (MachineStrip& strip : strips) {
        strip.top = top;
        const bool late = !strip.record->orders.empty();
        strip.loads_top = strip.top + heading_height + (late ? orders_height : 0);
        if (strip.headless) {
            strip.memory_top = strip.bottom = strip.loads_top;
        } else {
            strip.memory_top = strip.loads_top +
                               load_row_height * static_cast<double>(strip.rows.rows.size()) +
                               memory_gap;
            const double legend = legend_row * static_cast<double>(strip.legend.size());
            strip.bottom = std::max(strip.memory_top + memory_height, strip.loads_top + legend);
        }
        top = strip.bottom + gap_between;
    }
    return top - gap_between;
}

/// A line for each order, from when it was sent to when it came; those that would lie on another
/// are left out.
void draw_orders(Sheet& sheet, const MachineStrip& strip, const TimeFrame& frame) {
    const double top = strip.loads_top - orders_height;
    double free_from = 0;
    for (const walk::OrderSent& order : strip.record->orders) {
        if (order.reached == Micros::never()) continue;
        const double from = frame.x(order.sent);
        const double to = frame.x(order.reached);
        if (from < free_from) continue;
        sheet.line({{from, top + 2}, {to, strip.loads_top - 2}}, palette::ink, 1);
        free_from = from + 3;
    }
    sheet.hot({{frame.left, top}, {frame.right, strip.loads_top}},
              fmt::format("orders on their way: {}",
                          tables::counted(strip.record->orders.size(), "order")));
}

std::string heading_of(const plan::Plan& plan, const MachineStrip& strip) {
    const walk::Record& record = *strip.record;
    const plan::Machine& machine = *walk::machine_of(plan, record);
    std::string text = machine.name + " (" + plan.devices[record.device].name + ")";
    if (record.machine.value == 0) text += " keeps the game";
    if (machine.headless) return text + "; it reads and shows nothing";
    if (machine.delay.count > 0)
        text += fmt::format(", {} away", tables::short_time(machine.delay));
    if (!record.joined) return text + ", never joined";
    if (machine.joins.count > 0)
        text += fmt::format(", joins at {}", tables::short_time(machine.joins));
    return text;
}

void draw(Sheet& sheet, const plan::Plan& plan, const MachineStrip& strip, const TimeFrame& frame) {
    const walk::Record& record = *strip.record;
    sheet.text({{frame.left, strip.top + heading_height / 2},
                heading_of(plan, strip),
                Align::left,
                normal_text + 1,
                palette::ink});
    if (!record.orders.empty()) draw_orders(sheet, strip, frame);
    if (strip.headless) return;
    const double loads_bottom = strip.memory_top - memory_gap;
    draw_veils(sheet, plan, record, frame, strip.loads_top, loads_bottom);
    draw_time_grid(sheet, frame, strip.loads_top, loads_bottom);
    draw_load_rows(sheet, plan, record, strip.rows, frame, strip.loads_top);
    draw_time_grid(sheet, frame, strip.memory_top, strip.memory_top + memory_height);
    const ValueAxis axis =
        memory_axis(plan, record, strip.memory_top, strip.memory_top + memory_height);
    draw_value_axis(sheet, frame, axis);
    draw_memory(sheet, plan, record, strip.stack, frame, axis);
    point_at_memory(sheet, plan, record, strip.stack, frame, axis);
    draw_legend(sheet, {frame.right + margin, strip.loads_top}, strip.legend);
}

/// Who waited longest for whom.
std::string description_of(const plan::Plan& plan, std::span<const walk::Record> machines) {
    const walk::WaitedFor* longest = nullptr;
    const walk::Record* who = nullptr;
    for (const walk::Record& record : machines) {
        for (const walk::WaitedFor& each : record.waited) {
            if (longest != nullptr && each.longest <= longest->longest) continue;
            longest = &each;
            who = &record;
        }
    }
    std::string text = tables::counted(machines.size(), "machine") + ".";
    if (longest == nullptr) return text + " None waits for another.";
    const auto& names = plan.routes[who->route].machines;
    return text + fmt::format(" {} waits longest for {}: {}, until {}.", names[who->machine].name,
                              names[longest->whom].name, tables::short_time(longest->longest),
                              tables::short_time(longest->at));
}

} // namespace

Figure session_figure(const plan::Plan& plan, std::span<const walk::Record> machines) {
    const walk::Record& keeper = machines.front();
    std::vector<MachineStrip> strips;
    for (const walk::Record& record :
         machines.first(std::min(machines.size(), most_machines_drawn)))
        strips.push_back(strip_of(plan, record));
    std::string title = fmt::format("Machines – {}, route {}", on_one_line(plan.name),
                                    plan.routes[keeper.route].name);
    if (machines.size() > strips.size())
        title += fmt::format(", the first {} of {}", strips.size(), machines.size());
    std::vector<std::string> names;
    std::vector<Swatch> legend;
    TimeFrame frame;
    for (const MachineStrip& strip : strips) {
        for (const std::string& name : strip.rows.names()) names.push_back(name);
        add_legend(legend, strip.legend);
    }
    frame = time_frame(keeper, names, legend);
    for (const walk::Record& record : machines) frame.end = std::max(frame.end, record.end);
    const double bottom = lay_out(strips, title_height(title, frame.width) + 4);
    Figure figure{Sheet(frame.width, bottom + time_axis_height), title,
                  description_of(plan, machines)};
    draw_title(figure.sheet, title);
    for (const MachineStrip& strip : strips) draw(figure.sheet, plan, strip, frame);
    draw_time_axis(figure.sheet, frame, bottom, bottom);
    return figure;
}

} // namespace hestrel::figure
