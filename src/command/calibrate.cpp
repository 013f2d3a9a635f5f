// hestrel calibrate LOG.csv: a device's figures from measured loads.

#include "calibrate/calibration.hpp"
#include "command/calibration_text.hpp"
#include "command/output.hpp"
#include "command/terminal.hpp"
#include "exchange/load_log.hpp"
#include "figure/calibration_figure.hpp"
#include "figure/svg.hpp"
#include "plan/texts.hpp"
#include "source/disk.hpp"
#include "source/read_context.hpp"
#include "tables/calibration_tables.hpp"

#include <boost/program_options/value_semantic.hpp>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

using calibrate::Fitted;
using calibrate::Measurement;
using Fits = std::array<Fitted, calibrate::parts.size()>;

/// Measurements left out, each with its place in the log; the farthest off first.
std::string outliers_text(const Fits& fits, const std::vector<Measurement>& measurements,
                          const std::string& path) {
    constexpr std::size_t most_rows = 20;
    struct Off {
        const Fitted* fitted;
        std::size_t sample;
    };
    std::vector<Off> all;
    for (const Fitted& each : fits) {
        for (std::size_t i = 0; each.line && i < each.samples.size(); ++i) {
            if (each.line->outliers[i]) all.push_back({&each, i});
        }
    }
    if (all.empty()) return {};
    const auto deviations = [](const Off& off) {
        return std::abs(off.fitted->line->residuals[off.sample]) / off.fitted->line->scatter;
    };
    std::stable_sort(all.begin(), all.end(), [&](const Off& one, const Off& other) {
        return deviations(one) > deviations(other);
    });
    std::string text = "left out:\n";
    for (std::size_t i = 0; i < all.size() && i < most_rows; ++i) {
        const Off& off = all[i];
        const Measurement& measured = measurements[off.fitted->measurements[off.sample]];
        const calibrate::Sample& sample = off.fitted->samples[off.sample];
        text += fmt::format("  {}:{}: {} of {}: {:.4g} s, where {:.4g} s fit the others\n", path,
                            measured.line, name_of(off.fitted->part), measured.piece,
                            sample.seconds, off.fitted->line->at(sample.size));
    }
    if (all.size() > most_rows)
        text += fmt::format("  and {} more (residuals.csv)\n", all.size() - most_rows);
    return text + "\n";
}

/// What was made, and how long that took.
std::string made_text(const std::vector<calibrate::Made>& made) {
    if (made.empty()) return {};
    TextTable table(
        {{"made"}, {"make", TextTable::Align::right}, {"measured", TextTable::Align::right}});
    for (const calibrate::Made& each : made) {
        const std::string least = plan::plain_number(each.least);
        table.row(
            {each.piece,
             (each.least < each.most ? least + ".." + plan::plain_number(each.most) : least) + " s",
             std::to_string(each.measurements)});
    }
    return table.text() + "The log does not say what the plan says of these (column \"make\"): " +
           "this is it, where makers have speed 1.\n\n";
}

int run_calibrate(const Call& call) {
    const CommonOptions& options = call.common();
    const std::string& path = options.plan_path;
    const std::string name = call.text("name");
    if (!source::is_name(name))
        throw UsageError(fmt::format("--name: \"{}\" is no name of a device", name));
    Output output(options);
    const exchange::LoadLog log = exchange::read_load_log(output.disk().read(path), path);
    if (say_errors(log.errors)) return exit_code::problems_found;
    const Fits fits = calibrate::calibrate(log.measurements);
    bool refused = false;
    bool any = false;
    for (const Fitted& each : fits) {
        refused = refused || !each.refusal.empty();
        any = any || each.line;
    }
    const std::vector<calibrate::Made> made = calibrate::made_pieces(log.measurements);
    const std::string block = any ? tables::device_block(fits, name) : std::string();
    const std::string figures = tables::figures_csv(fits);
    const std::string json = tables::calibration_json(fits, log.measurements);
    output.write("figures.csv", figures);
    output.write("residuals.csv", tables::residuals_csv(fits, log.measurements));
    if (!made.empty()) output.write("made.csv", tables::made_csv(made));
    output.write("calibration.json", json);
    if (any) output.write("device.yaml", block);
    output.print(json, figures, [&] {
        std::string text = any ? figures_table(fits) + "\n" : std::string();
        text += outliers_text(fits, log.measurements, path);
        if (const std::string said = remarks(fits); !said.empty()) text += said + "\n";
        return text + made_text(made) + block;
    });
    output.say_files();
    if (any && output.draws()) output.draw("calibration", figure::calibration_figure(fits, path));
    output.require_drawn();
    return refused || (!any && made.empty()) ? exit_code::problems_found : exit_code::fine;
}

constexpr std::string_view calibrate_usage = R"(usage: hestrel calibrate LOG.csv [options]

Works out a device's figures from loads that were measured on it, each piece alone.
The log has these columns, in any order; cells can be empty:

  piece,packed,unpacked,objects,make,read_s,unpack_s,make_s,attach_s

Sizes are in MiB, or have a unit. make is what the plan says of the piece.
Prints the figures, how sure they are, what was left out, and a device for a plan.
Exits with 1 where a figure cannot be fitted.)";

} // namespace

Command calibrate_command() {
    namespace po = boost::program_options;
    auto described = options_for("calibrate", {Group::files, Group::pictures});
    described.add_options()("name",
                            po::value<std::string>()->default_value("measured")->value_name("NAME"),
                            "what the device is called")("no-figures", "write tables only");
    return {"calibrate",     "LOG.csv", "a device's figures from measured loads",
            calibrate_usage, described, &run_calibrate,
            {"log"},         1,         "which log?"};
}

} // namespace hestrel::command
