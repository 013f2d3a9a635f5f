// Arbitrary bytes as whatever else is read: the first byte chooses what, the rest is it.

#include "exchange/import.hpp"
#include "exchange/load_log.hpp"
#include "exchange/play_log.hpp"
#include "fuzz/files.hpp"
#include "source/overrides.hpp"
#include "source/plan_disk.hpp"
#include "source/plan_reader.hpp"
#include "tables/calibration_tables.hpp"
#include "tables/metrics_file.hpp"
#include "tables/saved_store.hpp"
#include "tables/trial_tables.hpp"
#include "verify/verify.hpp"
#include "walk/ground.hpp"

namespace {

using namespace hestrel;

/// A plan with a bit of everything that is named by what is read.
constexpr std::string_view plan_text = R"(hestrel: 1
sizes: [sizes.csv]
devices: {d: {memory: {total: 900}, read: {rate: 90}, frame: {fps: 30}, spread: {read: 10 %}}}
waypoints: {a: [0, 0, 0], b: [100, 0, 0]}
paths: [[a, b]]
players: {carrier: {speeds: {walk: 2}}}
kits: {wood: {memory: {texture: 10}}}
levels:
  hall: {memory: {texture: 100}, kits: [wood], entries: {door: a}}
  quay: {memory: {texture: 100..200}, entries: {steps: b}}
facts: {letters: {initial: 3, range: [0, 9], lifetime: saved}, open: {initial: false, lifetime: saved}, door: {initial: shut, values: [shut, ajar], lifetime: saved}}
menus: {desk: {in: hall, items: {go: {when: CONDITION, steps: [{show: [quay]}]}}}}
triggers: {t: {in: hall, box: {min: [20, -1, -1], max: [30, 1, 1]}, steps: [{show: [quay]}]}}
editions: {full: {levels: [hall, quay]}}
routes: {r: {start: {level: hall}, steps: [{go: b}]}}
)";

source::PlanReading plan_with(std::string_view condition, std::string_view sizes,
                              const source::ReadOptions& options = {}) {
    source::MemoryDisk disk;
    std::string text(plan_text);
    const std::string_view mark = "CONDITION";
    text.replace(text.find(mark), mark.size(), condition);
    disk.files["plan.yaml"] = text;
    disk.files["sizes.csv"] = sizes;
    return source::read_plan(disk, "plan.yaml", options);
}

/// A text in double quotes, as YAML has it.
std::string quoted(std::string_view text) {
    std::string all = "\"";
    for (const char each : text) {
        if (each == '"' || each == '\\') all += '\\';
        all += each == '\n' ? ' ' : each;
    }
    return all + "\"";
}

/// What another tool may have written, into the plan; what comes of it is a plan again.
void import_as(const std::string& name, std::string_view text) {
    source::MemoryDisk disk;
    disk.files["plan.yaml"] = plan_text;
    disk.files["sizes.csv"] = "piece,pool,memory\n";
    disk.files[name] = text;
    try {
        exchange::import_file(disk, "plan.yaml", name);
    } catch (const source::FileError&) {
        return;
    }
}

void read_as(char kind, std::string_view text) {
    constexpr std::string_view no_sizes = "piece,pool,memory\n";
    switch (kind) {
    case 's': plan_with("open", text); break;
    case 'c': plan_with(quoted(text), no_sizes); break;
    case 'o': {
        source::ReadOptions options;
        try {
            options.overrides.push_back(source::parse_override(std::string(text)));
        } catch (const std::invalid_argument&) {
            return;
        }
        plan_with("open", no_sizes, options);
        break;
    }
    case 'l': {
        const exchange::LoadLog log = exchange::read_load_log(text, "log.csv");
        if (log.errors.empty()) {
            const auto fits = calibrate::calibrate(log.measurements);
            tables::calibration_json(fits, log.measurements);
        }
        break;
    }
    case 'f': try { tables::metrics_json(tables::parse_metrics(std::string(text)));
        } catch (const tables::FiguresError&) {
            return;
        }
        break;
    case 'v':
        try {
            const auto reading = plan_with("open", no_sizes);
            tables::saved_store_json(reading.plan,
                                     tables::parse_saved_store(reading.plan, std::string(text)));
        } catch (const tables::SavedStoreError&) {
            return;
        }
        break;
    case 't':
        try {
            tables::TrialSet set{{plan::RouteId{0U}, {plan::DeviceId{0U}}}, 0, 0, {"read"}, {}};
            std::string_view rest = text;
            for (int shard = 0; !rest.empty() && shard < 4; ++shard)
                tables::add_trials(set, fuzz::take(rest, '\x1E'), "trials.csv");
            tables::put_in_order(set);
            tables::trials_csv(set);
        } catch (const tables::TrialsError&) {
            return;
        }
        break;
    case 'j': { // a journal that somebody else put beside a plan
        source::MemoryDisk disk;
        disk.files["plan.yaml"] = plan_text;
        disk.files[".hestrel-journal"] = text;
        try {
            source::PlanDisk mended(disk, "plan.yaml");
            mended.read("plan.yaml");
        } catch (const source::FileError&) {
            return;
        }
        break;
    }
    case 'p': { // a log of a play, and what it says beside the plan
        const exchange::ReadLog read = exchange::read_play_log(text, "play.csv", {});
        if (!read.errors.empty()) break;
        const auto reading = plan_with("open", no_sizes);
        verify::ScriptedPlan scripted(reading.plan, plan::RouteId{0U});
        verify::Play play = verify::play_of(reading.plan, plan::RouteId{0U}, read.log);
        const auto routes = scripted.routes_for(play.players);
        scripted.plan().files.push_back(read.log.name);
        walk::Ground ground(scripted.plan());
        verify::verify(scripted.plan(), routes, plan::DeviceId{0U}, read.log, std::move(play), 1,
                       {}, ground);
        break;
    }
    case 'g': import_as("world.gltf", text); break;
    case 'b': import_as("world.glb", text); break;
    case 'i': import_as("levels.csv", text); break;
    default: break;
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) return -1;
    const std::string_view bytes = fuzz::text_of(data, size);
    read_as(bytes.front(), bytes.substr(1));
    return 0;
}
