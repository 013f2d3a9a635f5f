#include "figure/memory_figure.hpp"

#include "figure/gnuplot.hpp"
#include "figure/palette.hpp"
#include "format/words.hpp"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>
#include <map>
#include <set>

namespace hestrel::figure {

using loading::Holder;
using loading::Holding;
using plan::Bytes;
using plan::Micros;

namespace {

/// Transitions with a number of their own at the top; more would not be readable.
constexpr std::size_t most_marks = 24;

/// Adds a holding to every time at which it is held.
void add_to(Band& band, const std::vector<Micros>& times, const Holding& holding) {
    const auto from = std::lower_bound(times.begin(), times.end(), holding.from) - times.begin();
    const bool to_the_end = holding.to >= times.back();
    const auto to = to_the_end
                        ? std::ssize(times)
                        : std::lower_bound(times.begin(), times.end(), holding.to) - times.begin();
    for (auto at = from; at < to; ++at) band.sizes[static_cast<std::size_t>(at)] += holding.size;
}

/// The pieces that ever hold most, in the plan's order.
std::vector<std::uint32_t> largest_pieces(const walk::Record& record) {
    std::map<std::uint32_t, Bytes> sizes;
    for (const Holding& holding : record.holdings) {
        if (holding.holder != Holder::piece || holding.size.count == 0) continue;
        sizes[holding.index] = std::max(sizes[holding.index], holding.size);
    }
    std::vector<std::pair<std::uint32_t, Bytes>> ranked(sizes.begin(), sizes.end());
    std::stable_sort(ranked.begin(), ranked.end(),
                     [](const auto& one, const auto& other) { return one.second > other.second; });
    if (ranked.size() > palette::pieces.size()) ranked.resize(palette::pieces.size());
    std::vector<std::uint32_t> pieces;
    for (const auto& [piece, size] : ranked) pieces.push_back(piece);
    std::sort(pieces.begin(), pieces.end());
    return pieces;
}

bool ever_held(const Band& band) {
    return std::any_of(band.sizes.begin(), band.sizes.end(),
                       [](Bytes size) { return size.count > 0; });
}

/// The same step written twice, so that lines run level and rise upright.
std::string stack_data(const MemoryStack& stack, Bytes budget) {
    std::string data = "$stack << END\n";
    const auto row = [&](Micros time, std::size_t index) {
        data += fmt::format("{:.6f}", plan::in_seconds(time));
        Bytes below;
        for (const Band& band : stack.bands) {
            data += fmt::format(" {:.3f}", plan::in_mebibytes(below));
            below += band.sizes[index];
        }
        data += fmt::format(" {:.3f} {:.3f}\n", plan::in_mebibytes(below),
                            plan::in_mebibytes(std::max(below, budget)));
    };
    for (std::size_t i = 0; i < stack.times.size(); ++i) {
        if (i > 0) row(stack.times[i], i - 1);
        row(stack.times[i], i);
    }
    return data + "END\n";
}

std::string transition_marks(const walk::Record& record) {
    std::string script;
    std::size_t marks = 0;
    double labelled_until = -1;
    const double width = std::max(plan::in_seconds(record.end), 1e-6);
    for (const walk::Transition& transition : record.transitions) {
        const double at = plan::in_seconds(transition.fired);
        script += fmt::format(
            "set arrow from first {0:.6f}, graph 0 to first {0:.6f}, graph 1 nohead dt 3 lc "
            "rgb '{1}' front\n",
            at, palette::transition);
        // A label needs room of its own: a fortieth of the width.
        if (marks == most_marks || at < labelled_until) continue;
        ++marks;
        labelled_until = at + width / 40;
        script +=
            fmt::format("set label {} at first {:.6f}, graph 1.02 center tc rgb '{}'\n",
                        gnuplot_string(std::to_string(transition.number)), at, palette::transition);
    }
    if (marks > 0) {
        script +=
            fmt::format("set label 'transition' at graph -0.01, graph 1.02 right tc rgb '{}'\n",
                        palette::transition);
    }
    return script;
}

} // namespace

MemoryStack memory_stack(const plan::Plan& plan, const walk::Record& record) {
    MemoryStack stack;
    for (const loading::MemoryRow& row : record.memory) stack.times.push_back(row.at);
    Micros end = record.end;
    if (!stack.times.empty()) end = std::max(end, stack.times.back());
    if (stack.times.empty() || stack.times.back() < end) stack.times.push_back(end);
    const std::vector<Bytes> nothing(stack.times.size());

    const std::vector<std::uint32_t> shown = largest_pieces(record);
    std::map<std::uint32_t, std::size_t> band_of;
    stack.bands.push_back({"base", palette::base, nothing});
    stack.bands.push_back({"players", palette::players, nothing});
    for (const std::uint32_t piece : shown) {
        band_of[piece] = stack.bands.size();
        stack.bands.push_back({format::piece_name(plan, loading::PieceId{piece}),
                               palette::pieces.at(band_of.size() - 1), nothing});
    }
    const std::size_t others = stack.bands.size();
    std::set<std::uint32_t> left_over;
    for (const Holding& holding : record.holdings) {
        const bool counts = holding.holder == Holder::piece && holding.size.count > 0;
        if (counts && !band_of.contains(holding.index)) left_over.insert(holding.index);
    }
    stack.bands.push_back({left_over.size() == 1
                               ? format::piece_name(plan, loading::PieceId{*left_over.begin()})
                               : fmt::format("{} others", left_over.size()),
                           palette::others, nothing});
    stack.bands.push_back({"staging", palette::staging, nothing});
    stack.bands.push_back({"veils", palette::veils, nothing});
    for (const Holding& holding : record.holdings) {
        std::size_t band = others;
        switch (holding.holder) {
        case Holder::base: band = 0; break;
        case Holder::players: band = 1; break;
        case Holder::piece:
            if (band_of.contains(holding.index)) band = band_of.at(holding.index);
            break;
        case Holder::staging: band = others + 1; break;
        case Holder::veil: band = others + 2; break;
        }
        add_to(stack.bands[band], stack.times, holding);
    }
    std::erase_if(stack.bands, [](const Band& band) { return !ever_held(band); });
    return stack;
}

std::string memory_script(const plan::Plan& plan, const walk::Record& record) {
    const plan::Device& device = plan.devices[record.device];
    const Bytes budget = device.memory.total;
    const MemoryStack stack = memory_stack(plan, record);
    std::string script = stack_data(stack, budget);
    const double top = std::max(plan::in_mebibytes(record.peak), plan::in_mebibytes(budget)) * 1.08;
    const double end = std::max(plan::in_seconds(stack.times.back()), 1e-6);
    const std::string title = fmt::format("{} – memory on route {}, device {}", plan.name,
                                          plan.routes[record.route].name, device.name);
    script += fmt::format(
        "set title {} offset 0,0.8\nset tmargin 4.5\nset xlabel 'time (s)'\nset ylabel 'memory "
        "(MiB)'\n"
        "set xrange [0:{:.6f}]\nset yrange [0:{:.3f}]\nset border 3\nset tics nomirror out\n"
        "set grid ytics lc rgb '#e5e5e5'\nset style fill solid 1.0 noborder\n"
        "set key outside right top reverse Left invert samplen 1.5\n",
        gnuplot_string(title), end, top);
    script += transition_marks(record);
    std::string plots;
    std::size_t column = 2;
    for (const Band& band : stack.bands) {
        plots += fmt::format("$stack using 1:{}:{} with filledcurves lc rgb '{}' title {}, ",
                             column, column + 1, band.colour, gnuplot_string(band.name));
        ++column;
    }
    if (!record.overruns.empty()) {
        plots += fmt::format("$stack using 1:({:.3f}):{} with filledcurves fs transparent pattern "
                             "4 lc rgb '{}' title 'over "
                             "budget', ",
                             plan::in_mebibytes(budget), column + 1, palette::overrun);
    }
    plots +=
        fmt::format("{:.3f} with lines lw 2 dt 2 lc rgb '{}' title {}", plan::in_mebibytes(budget),
                    palette::budget, gnuplot_string("budget " + format::short_memory(budget)));
    return script + "plot " + plots + "\n";
}

} // namespace hestrel::figure
