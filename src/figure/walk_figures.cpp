#include "figure/walk_figures.hpp"

#include "figure/frame.hpp"
#include "figure/frames_figure.hpp"
#include "figure/loads_figure.hpp"
#include "figure/map_figure.hpp"
#include "figure/memory_figure.hpp"
#include "figure/residency_figure.hpp"
#include "figure/storyboard_figure.hpp"
#include "plan/questions.hpp"

namespace hestrel::figure {

WalkFigures walk_figures(const plan::Plan& plan, const walk::Record& record) {
    const LoadRows rows = load_rows(plan, record);
    const MemoryStack stack = memory_stack(plan, record);
    std::vector<Swatch> legend = loads_legend(record, rows);
    for (const Swatch& swatch : memory_legend(plan, record, stack)) legend.push_back(swatch);
    const bool costs = plan::has_frame_costs(plan);
    if (costs) {
        for (const Swatch& swatch : frames_legend(plan, record)) legend.push_back(swatch);
    }
    const TimeFrame frame = time_frame(record, rows.names(), legend);
    WalkFigures figures{loads_figure(plan, record, rows, frame),
                        memory_figure(plan, record, stack, frame),
                        std::nullopt,
                        std::nullopt,
                        map_figure(plan, record),
                        storyboard_figure(plan, {&record})};
    if (costs) figures.frames = frames_figure(plan, record, frame);
    const Residency residency = residency_of(plan, record);
    if (!residency.rows.empty() && !residency.columns.empty())
        figures.residency = residency_figure(plan, record, residency);
    return figures;
}

} // namespace hestrel::figure
