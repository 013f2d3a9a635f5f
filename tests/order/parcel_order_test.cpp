#include "order/parcel_order.hpp"

#include "support/figures.hpp"

using namespace hestrel;
using plan::mebibytes;
using plan::seconds;

namespace {

/// Three parcels behind the first: 100, 50 and 25 MiB (with a kit that all share, 10 MiB), at
/// 10 MiB/s; the route asks for c's level at 2 s, b's at 4 s and never for a's.
const std::string plan_text = R"(hestrel: 1
devices:
  box: {memory: {total: 10000}, read: {rate: 1000}, frame: {fps: 100}, download: {rate: 10}}
kits: {shared: {memory: {t: 10}}}
levels:
  hall: {memory: {t: 5}, entries: {in: a}}
  large: {memory: {t: 90}, kits: [shared]}
  middle: {memory: {t: 40}, kits: [shared]}
  small: {memory: {t: 15}, kits: [shared]}
waypoints: {a: [0, 0, 0], b: [10, 0, 0]}
paths: [[a, b]]
triggers:
  one: {box: {min: [2, -1, -1], max: [2.1, 1, 1]}, steps: [{load: [small]}]}
  two: {box: {min: [4, -1, -1], max: [4.1, 1, 1]}, steps: [{load: [middle]}]}
players: {p: {speeds: {walk: 1}}}
editions: {full: {levels: [hall, large, middle, small], parcels: [{core: [hall]}, {a: [large]}, {b: [middle]}, {c: [small]}]}}
routes: {r: {edition: full, start: {level: hall, at: in}, steps: [{go: b}]}}
)";

} // namespace

TEST_CASE("what must be there before play: the most that is missing at any need") {
    const plan::ByteRate rate{mebibytes(10).count};
    CHECK(order::ahead_for({}, rate) == mebibytes(0));
    CHECK(order::ahead_for({{mebibytes(100), seconds(4)}}, rate) == mebibytes(60));
    // 100 MiB at 4 s: 60 ahead; 300 MiB at 22 s: 80 ahead; 20 MiB at 9 s: in time.
    CHECK(order::ahead_for({{mebibytes(100), seconds(4)},
                            {mebibytes(300), seconds(22)},
                            {mebibytes(20), seconds(9)}},
                           rate) == mebibytes(80));
}

TEST_CASE("parcels along a route: when they arrive, when they are needed, and a better order") {
    const plan::Plan plan = tests::plan_from(plan_text);
    const std::vector<walk::Record> records{walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0})};
    const auto order = order::order_parcels(plan, plan::EditionId{0}, plan::DeviceId{0}, records);
    REQUIRE(order);
    REQUIRE(order->routes.size() == 1);
    const order::RouteDelivery& route = order->routes[0];
    const plan::Micros boot = *records[0].boot;
    REQUIRE(route.parcels.size() == 4);
    CHECK(route.parcels[1].size == mebibytes(100));
    CHECK(route.parcels[1].arrives == seconds(10));
    CHECK(*route.parcels[1].needed == boot + seconds(2)); // its kit: the small level asks for that
    CHECK(route.parcels[2].arrives == seconds(14));
    CHECK(*route.parcels[2].needed == boot + seconds(4));
    CHECK(route.parcels[3].arrives == plan::milliseconds(15'500));
    CHECK(route.waits == plan::milliseconds(13'500) - boot);
    // 5 + 100 + 40 + 15 MiB, needed 2 s after the boot: 20 MiB have come since.
    CHECK(route.ahead.count ==
          mebibytes(160).count - mebibytes(10).count * (seconds(2) + boot).count / 1'000'000);
    // c with the kit takes 2.5 s, then b 4 s: 6.5 s, needed at 4 s. a is never needed.
    CHECK(order->exact);
    CHECK(order->proposed == std::vector<std::size_t>{0, 3, 2, 1});
    // a comes last then, 9 s of it, its kit being there: later than today.
    CHECK(route.parcels[1].then == plan::milliseconds(15'500));
    CHECK(route.parcels[2].then == plan::milliseconds(6'500));
    CHECK(route.parcels[3].then == plan::milliseconds(2'500));
    CHECK(order->waits == route.waits);
    CHECK(order->waits_then == plan::milliseconds(2'500) - boot);
}

TEST_CASE("where that much is there before play begins, nobody waits; a byte less, somebody does") {
    const plan::Plan plan = tests::plan_from(plan_text);
    const std::vector<walk::Record> records{walk::walk(plan, plan::RouteId{0}, plan::DeviceId{0})};
    const auto order = order::order_parcels(plan, plan::EditionId{0}, plan::DeviceId{0}, records);
    REQUIRE(order);
    const order::RouteDelivery& route = order->routes[0];
    const auto late_with = [&](plan::Bytes ahead) {
        plan::Bytes upto;
        bool late = false;
        for (const order::ParcelArrival& parcel : route.parcels) {
            upto += parcel.size;
            if (!parcel.needed || upto <= ahead) continue;
            const plan::Int128 arrived =
                static_cast<plan::Int128>(mebibytes(10).count) * parcel.needed->count / 1'000'000;
            late = late || ahead.count + arrived < upto.count;
        }
        return late;
    };
    CHECK_FALSE(late_with(route.ahead));
    CHECK(late_with({route.ahead.count - 1}));
}

TEST_CASE("no parcels, no download or no walk: nothing to order") {
    const plan::Plan plan = tests::plan_from(plan_text);
    CHECK_FALSE(order::order_parcels(plan, plan::EditionId{0}, plan::DeviceId{0}, {}));
    const plan::Plan other = tests::plan_from(
        std::string(tests::plain_device) + "levels: {a: {memory: {t: 1}}}\neditions: {e: {levels: "
                                           "[a]}}\nroutes: {r: {edition: e, start: {level: a}, "
                                           "steps: []}}\n");
    const std::vector<walk::Record> records{walk::walk(other, plan::RouteId{0}, plan::DeviceId{0})};
    CHECK_FALSE(order::order_parcels(other, plan::EditionId{0}, plan::DeviceId{0}, records));
}
