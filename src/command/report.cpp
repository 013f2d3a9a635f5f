// hestrel report PLAN: all of it on one page, for a review meeting.

#include "advise/advice.hpp"
#include "check/check.hpp"
#include "command/orders.hpp"
#include "command/output.hpp"
#include "command/progress.hpp"
#include "command/reading.hpp"
#include "command/walk.hpp"
#include "compare/difference.hpp"
#include "figure/budget_figure.hpp"
#include "figure/flow_figure.hpp"
#include "figure/heat_figure.hpp"
#include "figure/order_figure.hpp"
#include "figure/session_figure.hpp"
#include "figure/situations_figure.hpp"
#include "figure/storyboard_figure.hpp"
#include "figure/svg.hpp"
#include "figure/walk_figures.hpp"
#include "plan/jobs.hpp"
#include "plan/names.hpp"
#include "report/page.hpp"
#include "report/replay.hpp"
#include "report/sessions_section.hpp"
#include "source/disk.hpp"
#include "source/plan_content.hpp"
#include "source/plan_disk.hpp"
#include "tables/advice_tables.hpp"
#include "walk/casts.hpp"
#include "walk/summary.hpp"

#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>
#include <hestrel/version.hpp>
#include <optional>

namespace hestrel::command {

namespace {

/// Figures that are drawn together, and where their pictures go.
class Drawings {
public:
    void add(figure::Figure figure, std::string& into) {
        figures_.push_back(std::move(figure));
        into_.push_back(&into);
    }
    void add(std::optional<figure::Figure> figure, std::string& into) {
        if (figure) add(std::move(*figure), into);
    }
    /// Why one could not be drawn, if any; its picture stays empty.
    [[nodiscard]] std::string draw() const {
        std::string problem;
        std::vector<figure::Drawn> all = figure::draw(figures_, figure::Picture::svg);
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (problem.empty()) problem = all[i].problem;
            *into_[i] = std::move(all[i].picture);
        }
        return problem;
    }

private:
    std::vector<figure::Figure> figures_;
    std::vector<std::string*> into_;
};

/// The figures that stand on the page once. Why one could not be drawn, if any.
std::string draw_whole(report::Contents& contents) {
    const auto& records = contents.records;
    const plan::Plan& plan = contents.plan;
    Drawings drawings;
    std::vector<figure::Figure> boards;
    drawings.add(figure::budget_figure(plan, records), contents.budget);
    for (const plan::EditionId edition : plan.editions.ids()) {
        if (!order::parcels_of(contents.orders.parcels, edition).empty())
            contents.orders.figures.emplace_back(edition, std::string());
    }
    for (auto& [edition, picture] : contents.orders.figures)
        drawings.add(figure::order_figure(plan, order::parcels_of(contents.orders.parcels, edition),
                                          records),
                     picture);
    for (report::ExploredEdition& each : contents.explored) {
        const explore::Explorer& explorer = *each.explored.explorer;
        drawings.add(figure::situations_figure(explorer, figure::situations_residency(explorer)),
                     each.residency);
        const std::vector<explore::Heat> heat = explore::heat(explorer);
        drawings.add(figure::heat_figure(explorer, heat, figure::HeatOf::memory), each.heat);
        drawings.add(figure::heat_figure(explorer, heat, figure::HeatOf::frames), each.heat_frames);
    }
    const auto sessions = walk::sessions_in(records);
    contents.sessions.resize(sessions.size());
    for (const std::size_t i : report::drawn_sessions(records))
        drawings.add(figure::session_figure(plan, sessions[i]), contents.sessions[i]);
    for (const std::vector<const walk::Record*>& seen : walk::alike_devices(plan, records)) {
        if (auto figure = figure::storyboard_figure(plan, seen)) {
            contents.storyboards.emplace_back();
            boards.push_back(std::move(*figure));
        }
    }
    for (std::size_t i = 0; i < boards.size(); ++i)
        drawings.add(std::move(boards[i]), contents.storyboards[i]);
    std::string problem = drawings.draw();
    try {
        contents.flow =
            figure::draw(figure::flow_figure(plan, records, figure::flow_chart(plan, records)),
                         figure::Picture::svg);
    } catch (const figure::DrawingError& error) {
        if (problem.empty()) problem = error.what();
    }
    return problem;
}

/// Draws all that can be drawn. Why one could not be, if any.
std::string draw_all(report::Contents& contents, unsigned jobs, Progress& progress) {
    const auto& records = contents.records;
    const std::vector<std::size_t> drawn = report::drawn_walks(records);
    const auto shares = plan::shares(drawn.size(), figure::walks_drawn_together);
    std::vector<std::string> problems(shares.size() + 1);
    progress.begin("sheets of figures", problems.size());
    plan::in_parallel(problems.size(), jobs, [&](std::size_t share) {
        if (share == shares.size()) {
            problems[share] = draw_whole(contents);
            progress.one_more();
            return;
        }
        Drawings drawings;
        for (std::size_t i = 0; i < shares[share].count; ++i) {
            const std::size_t walk = shares[share].first + i;
            figure::WalkFigures figures = figure::walk_figures(contents.plan, records[drawn[walk]]);
            report::WalkPictures& pictures = contents.pictures[walk];
            drawings.add(std::move(figures.loads), pictures.loads);
            drawings.add(std::move(figures.memory), pictures.memory);
            drawings.add(std::move(figures.frames), pictures.frames);
            drawings.add(std::move(figures.residency), pictures.residency);
            drawings.add(std::move(figures.map), pictures.map);
        }
        problems[share] = drawings.draw();
        progress.one_more();
    });
    const auto first = std::find_if(problems.begin(), problems.end(),
                                    [](const std::string& problem) { return !problem.empty(); });
    return first == problems.end() ? std::string() : *first;
}

constexpr std::size_t situations_for_report = 200'000;

/// Every edition, as far as the page's limit.
std::vector<report::ExploredEdition> explore_all(const plan::Plan& plan,
                                                 const std::vector<plan::DeviceId>& devices,
                                                 unsigned jobs, Progress& progress) {
    const auto editions = explore::explorable_editions(plan);
    std::vector<report::ExploredEdition> all(editions.size());
    progress.begin_open("situations looked at");
    plan::in_parallel(editions.size(), jobs, [&](std::size_t i) {
        explore::Options options;
        watch(progress, i, options);
        options.edition = editions[i];
        options.devices = devices;
        options.most_situations = situations_for_report;
        all[i].explored = explore::explored(plan, std::move(options));
    });
    return all;
}

/// What would mend the plan.
report::Advice advice_on(const plan::Plan& plan, const std::vector<walk::Record>& records,
                         const CommonOptions& options, Progress& progress) {
    report::Advice advice;
    advise::Options advising;
    watch(progress, advising);
    advising.devices = walk::devices_of(records);
    advising.jobs = options.jobs;
    advice.advised = advise::advise(plan, records, advising);
    source::RealDisk disk;
    advice.settings = tables::settings_of(disk, plan, options.plan_path,
                                          read_options(options.sets).overrides, advice.advised);
    return advice;
}

/// The walks as the replay reads them.
std::vector<std::string> packed_walks(const plan::Plan& plan,
                                      const std::vector<walk::Record>& records, unsigned jobs) {
    const auto walks = walk::walks_in(records);
    std::vector<std::string> packed(walks.size());
    plan::in_parallel(walks.size(), jobs, [&](std::size_t i) {
        packed[i] = report::packed(report::replay_walk(plan, walks[i]));
    });
    return packed;
}

/// Writes the page. Where a figure can't be drawn it is written without it, says why, and
/// DrawingError is thrown after that.
void write_page(report::Contents& contents, const CommonOptions& options, Output& output,
                Progress& progress) {
    const plan::Plan& plan = contents.plan;
    const auto& records = contents.records;
    const unsigned jobs = options.jobs;
    Ordering ordering;
    ordering.devices = walk::devices_of(records);
    for (const plan::EditionId edition : plan.editions.ids()) ordering.editions.push_back(edition);
    contents.orders = order_all(plan, ordering, records, jobs, progress);
    contents.explored = explore_all(plan, ordering.devices, jobs, progress);
    contents.pictures.resize(report::drawn_walks(records).size());
    contents.walks = packed_walks(plan, records, jobs);
    std::string problem;
    if (options.figures) problem = draw_all(contents, jobs, progress);
    progress.end();
    contents.undrawn = options.figures ? problem : "--no-figures was given";
    output.write_alone(options.out, report::page(contents));
    if (!problem.empty()) throw figure::DrawingError(problem);
}

/// The plan with which this one is compared, walked in the same way.
struct OtherPlan {
    plan::Plan plan;
    std::vector<walk::Record> records;
    source::Json content;
};

std::optional<OtherPlan> other_plan(const std::string& path, const CommonOptions& options,
                                    const walk::Options& walking, Output& output) {
    std::optional<plan::Plan> plan = load_plan(path, {}, output.inputs());
    if (!plan) return std::nullopt;
    OtherPlan other{std::move(*plan), {}, {}};
    auto routes = plan::named_in(other.plan.routes, options.routes);
    if (walking.delivery) leave_out_sessions(other.plan, options, routes);
    Progress progress(output);
    other.records =
        walk_all(other.plan, routes, plan::named_in(other.plan.devices, options.devices), walking,
                 options.jobs, progress);
    progress.end();
    source::PlanDisk as_read(output.disk(), path);
    other.content = source::plan_content(as_read, path, {});
    return other;
}

/// What this plan does otherwise than that.
tables::Compared compared_with(const OtherPlan& other, const report::Contents& contents,
                               const CommonOptions& options, const std::string& path,
                               Output& output) {
    tables::Compared compared;
    compared.before = path;
    compared.after = options.plan_path;
    for (const std::string& set : options.sets) compared.after += " --set " + set;
    source::PlanDisk as_read(output.disk(), options.plan_path);
    compared.plan = source::plan_changes(
        other.content,
        source::plan_content(as_read, options.plan_path, read_options(options.sets).overrides));
    compared.differences = compare::differences(
        compare::metrics_of(other.plan, check::check(other.plan), other.records),
        compare::metrics_of(contents.plan, contents.checked, contents.records), {});
    return compared;
}

int run_report(const Call& call) {
    const CommonOptions& options = call.common();
    Output output(options);
    const auto plan = load_plan(options.plan_path, options.sets, output.inputs());
    if (!plan) return exit_code::problems_found;
    auto routes = chosen(plan->routes, options.routes, "route");
    const auto devices = chosen(plan->devices, options.devices, "device");
    require_walks(options, routes, devices);
    output.require_alone(options.out);
    const bool delivery = call.has("delivery");
    if (delivery) leave_out_sessions(*plan, options, routes);
    walk::Options walking;
    walking.delivery = delivery;
    Progress progress(output);
    const std::string compared_to = call.text("compare");
    std::optional<OtherPlan> other;
    if (!compared_to.empty()) {
        other = other_plan(compared_to, options, walking, output);
        if (!other) return exit_code::problems_found;
    }
    const auto records = walk_all(*plan, routes, devices, walking, options.jobs, progress);
    std::vector<std::pair<std::string, std::string>> ran{
        {"Plan", fmt::format("{} ({})", plan->name, options.plan_path)},
        {"Devices", plan::joined(plan::names_in(plan->devices, devices))},
        {"Routes", plan::joined(plan::names_in(plan->routes, routes))},
        {"Parcels", delivery ? "arrive while the game is played" : "are all there"},
        {"Program", "hestrel " HESTREL_VERSION}};
    if (!options.sets.empty()) ran.emplace_back("Values tried", plan::joined(options.sets));
    report::Contents contents{*plan, records};
    contents.checked = check::check(*plan, {});
    if (other) {
        ran.emplace_back("Compared with", compared_to);
        contents.before.emplace(report::Before{
            other->plan, other->records, packed_walks(other->plan, other->records, options.jobs),
            compared_with(*other, contents, options, compared_to, output)});
    }
    contents.ran = std::move(ran);
    // What is tried is walked with everything there.
    if (!delivery) contents.advice = advice_on(*plan, records, options, progress);
    write_page(contents, options, output, progress);
    if (!options.quiet) Output::print(options.out + "\n");
    return all_fine(records) ? exit_code::fine : exit_code::problems_found;
}

constexpr std::string_view report_usage = R"(usage: hestrel report PLAN [options]

Checks the plan, walks its routes on its devices, orders its editions, explores up to
200,000 situations of each, advises, and puts all of it on one page.
On top, every walk can be replayed: the map, memory, what loads, what players see.
Below stand verdicts, tables, figures and findings.
The page is one HTML file that needs no network and prints well. Without scripts it
shows the worst walk of each device.
With --compare it says on top what differs from another plan, and replays either.
Exits with 1 where a walk is not fine.)";

} // namespace

Command report_command() {
    namespace po = boost::program_options;
    auto described = options_for("report", {Group::devices, Group::routes, Group::values});
    described.add_options()(
        "out",
        po::value<std::string>()->default_value("hestrel-out/report.html")->value_name("FILE"),
        "write the page there")("delivery", "parcels arrive while the game is played")(
        "compare", po::value<std::string>()->value_name("OTHER"),
        "say what this plan does otherwise than that one, and show both");
    add_force(described);
    return {"report",     "PLAN",    "all of it on one page, for a review meeting",
            report_usage, described, &run_report};
}

} // namespace hestrel::command
