// What parcels hold, how large they are, and when they arrive.

#include "walk/delivery.hpp"

#include "support/plan_text.hpp"

using namespace hestrel;
using plan::mebibytes;
using plan::seconds;

namespace {

const std::string delivered_lake = R"(hestrel: 1
devices:
  slow: {memory: {total: 900}, read: {rate: 100}, unpack: {rate: 100}, frame: {fps: 100}, download: {rate: 10}}
  whole: {memory: {total: 900}, read: {rate: 100}, frame: {fps: 100}}
kits: {wood: {memory: {texture: 40}, packed: 20}, nails: {memory: {texture: 10}, needs: [wood]}}
levels:
  hall: {memory: {texture: 100}, packed: 60, kits: [wood]}
  quay: {memory: {texture: 200}, packed: 90, kits: [nails], sublevels: {shed: {memory: {texture: 50}, packed: 30}, deck: {memory: {texture: 9}}}}
editions:
  full: {levels: [hall, quay], parcels: [{core: [hall]}, {coast: [shed]}, {again: [quay, hall]}]}
  bare: {levels: [hall]}
)";

} // namespace

TEST_CASE("a parcel holds what no earlier one has, with kits, ancestors and all below") {
    const plan::Plan plan = tests::plan_from(delivered_lake);
    const plan::DeviceId slow{std::size_t{0}};
    const auto catalogue = loading::catalogue_for(plan, slow);
    const auto parcels = walk::deliveries(plan, catalogue, plan::EditionId{std::size_t{0}}, slow);
    REQUIRE(parcels.size() == 3);
    CHECK(parcels[0].size == mebibytes(60 + 20));
    // The shed with its parent, and the kit that wood alone does not make up for.
    CHECK(parcels[1].size == mebibytes(90 + 30 + 10));
    CHECK(parcels[2].size == mebibytes(9));
    // Time 0 is when the first is there; 10 MiB/s from then on.
    CHECK(parcels[0].at == plan::Micros{});
    CHECK(parcels[1].at == seconds(13));
    CHECK(parcels[2].at == plan::milliseconds(13'900));
}

TEST_CASE("nothing is delivered where nothing is downloaded, or the edition has no parcels") {
    const plan::Plan plan = tests::plan_from(delivered_lake);
    const plan::DeviceId slow{std::size_t{0}}, whole{std::size_t{1}};
    const plan::EditionId full{std::size_t{0}}, bare{std::size_t{1}};
    CHECK(walk::deliveries(plan, loading::catalogue_for(plan, whole), full, whole).empty());
    CHECK(walk::deliveries(plan, loading::catalogue_for(plan, slow), bare, slow).empty());
    CHECK(walk::deliveries(plan, loading::catalogue_for(plan, slow), {}, slow).empty());
}

TEST_CASE("what is made of nothing waits for its parcel, too, and adds nothing to it") {
    std::string text = delivered_lake;
    const std::string quay = "  quay: {memory: {texture: 200}, packed: 90";
    text.replace(text.find(quay), quay.size(),
                 "  moor: {memory: {texture: 80}, packed: 0, make: 2 s}\n" + quay);
    const std::string parcels = "{levels: [hall, quay], parcels: [{core: [hall]}, {coast: [shed]}";
    text.replace(text.find(parcels), parcels.size(),
                 "{levels: [hall, quay, moor], parcels: [{core: [hall]}, {coast: [shed, moor]}");
    text += "triggers: {t: {in: hall, when: day, steps: [{show: [moor]}]}}\n"
            "facts: {day: {initial: true}}\nroutes: {r: {start: {level: hall}, steps: [{pause: 30 "
            "s}]}}\n";
    const plan::Plan plan = tests::plan_from(text);
    const plan::DeviceId slow{std::size_t{0}};
    const auto sizes = walk::deliveries(plan, loading::catalogue_for(plan, slow),
                                        plan::EditionId{std::size_t{0}}, slow);
    CHECK(sizes[1].size == mebibytes(90 + 30 + 10)); // as without it
    walk::Options options;
    options.delivery = true;
    const walk::Record record = walk::walk(plan, plan::RouteId{0}, slow, options);
    const plan::LevelId moor = tests::named(plan.levels, "moor");
    const auto load = std::find_if(
        record.loads.begin(), record.loads.end(),
        [&](const loading::LoadRecord& each) { return each.piece.value == moor.value; });
    REQUIRE(load != record.loads.end());
    CHECK(load->asked < seconds(5));
    CHECK(load->make_start == seconds(13)); // when the parcel has arrived
    CHECK(load->make_end == seconds(15));
    CHECK(std::any_of(record.findings.begin(), record.findings.end(),
                      [](const plan::Finding& each) { return each.name == "not-delivered"; }));
}
