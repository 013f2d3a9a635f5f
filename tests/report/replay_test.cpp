// The data of the replay: it is the record, and what is packed comes out as it went in.

#include "report/replay.hpp"

#include "report/page.hpp"
#include "source/fingerprint.hpp"
#include "support/figures.hpp"
#include "support/plan_text.hpp"
#include "walk/casts.hpp"

#include <zlib.h>

using namespace hestrel;
using nlohmann::json;

namespace {

std::int64_t sum(const json& differences, std::size_t count) {
    std::int64_t all = 0;
    for (std::size_t i = 0; i < count; ++i) all += differences.at(i).get<std::int64_t>();
    return all;
}

/// Bytes that Base64 (RFC 4648) stands for.
std::string from_base64(const std::string& text) {
    const std::string digits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string bytes;
    std::uint32_t bits = 0;
    int held = 0;
    for (const char each : text) {
        if (each == '=') break;
        bits = bits << 6U | static_cast<std::uint32_t>(digits.find(each));
        held += 6;
        if (held < 8) continue;
        held -= 8;
        bytes += static_cast<char>(bits >> static_cast<unsigned>(held) & 0xFFU);
    }
    return bytes;
}

} // namespace

TEST_CASE("what is packed comes out as it went in") {
    const std::string text = "{\"name\": \"Ωμέγα 湖\"}" + std::string(5000, 'x');
    const std::string packed = report::packed(text);
    CHECK(packed.size() < 200);
    const std::string bytes = from_base64(packed);
    std::string out(10'000, '\0');
    uLongf size = out.size();
    REQUIRE(uncompress(reinterpret_cast<Bytef*>(out.data()), &size,
                       reinterpret_cast<const Bytef*>(bytes.data()), bytes.size()) == Z_OK);
    CHECK(out.substr(0, size) == text);
}

TEST_CASE("the replay's data of a walk is the record") {
    const plan::Plan plan = tests::demo_plan();
    const std::vector<walk::Record> records = tests::walks_of(plan);
    const json world = json::parse(report::replay_plan(plan));
    CHECK(world.at("levels").size() == plan.levels.size());
    CHECK(world.at("triggers").size() == plan.triggers.size());
    for (const std::span<const walk::Record> walk : walk::walks_in(records)) {
        const json data = json::parse(report::replay_walk(plan, walk));
        REQUIRE(data.at("machines").size() == walk.size());
        for (std::size_t i = 0; i < walk.size(); ++i) {
            const walk::Record& record = walk[i];
            const json& machine = data.at("machines").at(i);
            CHECK(machine.at("end") == record.end.count);
            CHECK(machine.at("peak").at(0) == record.peak.count);
            const json& memory = machine.at("memory");
            REQUIRE(memory.at("total").size() == record.memory.size());
            for (const std::size_t row : {std::size_t{0}, record.memory.size() / 2}) {
                CHECK(sum(memory.at("total"), row + 1) == record.memory[row].total.count);
                CHECK(sum(memory.at("times"), row + 1) == record.memory[row].at.count);
                std::int64_t stacked = 0;
                for (const json& band : memory.at("bands"))
                    stacked += sum(band.at("sizes"), row + 1);
                CHECK(stacked == record.memory[row].total.count);
            }
            CHECK(machine.at("gaps").size() == record.gaps.size());
            CHECK(machine.at("findings").size() == record.findings.size());
            CHECK(machine.contains("headless") == walk::is_headless(plan, record));
        }
        CHECK(data.at("players").size() == plan.routes[walk.front().route].players.size());
    }
}

TEST_CASE("an address names a walk and a moment, whatever it is called") {
    const plan::Plan plan = tests::plan_from(tests::grid_plan(2, "a"));
    walk::Record record = tests::walks_of(plan).front();
    const std::string address = report::replay_address(plan, record, plan::milliseconds(1500));
    CHECK(address.find('#') == 0);
    CHECK(address.ends_with("@1.500"));
    CHECK(address.find_first_of("\"' <>%", 1) == std::string::npos);
}
