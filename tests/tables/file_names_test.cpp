#include "tables/file_names.hpp"

#include <catch2/catch.hpp>
#include <set>

using namespace hestrel;

namespace {

plan::Plan plan_of(const std::vector<std::string>& names) {
    plan::Plan plan;
    for (const std::string& name : names) {
        plan::Route route;
        route.name = name;
        plan.routes.push(route);
        plan::Device device;
        device.name = name;
        plan.devices.push(device);
    }
    return plan;
}

} // namespace

TEST_CASE("file names: routes and devices whose names join to the same have folders of their own") {
    const plan::Plan plan = plan_of({"a", "b", "c", "a--b", "b--c", "a-", "b---c", "a--", "a-b"});
    std::set<std::string> folders;
    for (const plan::RouteId route : plan.routes.ids()) {
        for (const plan::DeviceId device : plan.devices.ids())
            folders.insert(tables::walk_folder(plan, route, {device}));
    }
    CHECK(folders.size() == plan.routes.size() * plan.devices.size());
    const std::vector<plan::DeviceId> two{plan::DeviceId{0U}, plan::DeviceId{3U}};
    CHECK(tables::walk_folder(plan, plan::RouteId{0U}, two) == "a--a+a-~-b");
    // Of many machines no longer than a file system takes, and still each by itself.
    std::vector<plan::DeviceId> many(300, plan::DeviceId{0U});
    const std::string same = tables::walk_folder(plan, plan::RouteId{0U}, many);
    many.back() = plan::DeviceId{1U};
    CHECK(same.size() < 200);
    CHECK(tables::walk_folder(plan, plan::RouteId{0U}, many) != same);
    CHECK(tables::walk_folder(plan, plan::RouteId{0U}, {plan::DeviceId{1U}}) == "a--b");
    CHECK(tables::walk_folder(plan, plan::RouteId{3U}, {plan::DeviceId{2U}}) == "a-~-b--c");
}

TEST_CASE("file names: an edition called as another file is, or ending like one, stands apart") {
    const std::vector<std::string_view> others{"pieces"};
    const std::vector<std::string_view> parts{"-positions"};
    CHECK(tables::edition_file("full", others, parts) == "full");
    CHECK(tables::edition_file("pieces", others, parts) == "pieces~");
    CHECK(tables::edition_file("full-positions", others, parts) == "full-positions~");
}

TEST_CASE("file names: a witness of one edition is never called as that of another") {
    CHECK(tables::witness_file("full") == "full");
    CHECK(tables::witness_file("full-game") == "full-game");
    // full-hurried: players who hurry in full; full-over: over-budget in full.
    CHECK(tables::witness_file("full-hurried") == "full-hurried~");
    CHECK(tables::witness_file("full-over") == "full-over~");
}
