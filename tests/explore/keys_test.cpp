// Two different states never have one key: over random states that the visitor of their members
// makes, so that a new member is in here without being named.

#include "explore/keys.hpp"

#include "explore/situation.hpp"
#include "support/dice.hpp"
#include "support/printing.hpp"

#include <map>

using namespace hestrel;

namespace {

/// Gives every member that it visits a value of few, so that states often are nearly the same.
class Filler {
public:
    explicit Filler(tests::Dice& dice) : dice_(dice) {}

    template <class T>
    void operator()(T& value) {
        if constexpr (std::is_same_v<T, bool>) {
            value = below(2) == 1;
        } else if constexpr (std::is_enum_v<T>) {
            value = static_cast<T>(below(2));
        } else if constexpr (std::is_arithmetic_v<T>) {
            value = static_cast<T>(below(3));
        } else if constexpr (requires { T::no_value; }) {
            value = below(3) == 0 ? T{} : T{std::size_t{below(3)}};
        } else if constexpr (requires { value.count; }) {
            value.count = below(3);
        } else if constexpr (requires { value.has_value(); }) {
            value.reset();
            if (below(2) == 0) (*this)(value.emplace());
        } else if constexpr (requires { value.first; }) {
            (*this)(value.first);
            (*this)(value.second);
        } else if constexpr (requires { value.key_comp(); }) {
            fill<typename T::value_type>([&](auto each) { value.insert(each); });
        } else if constexpr (requires { value.push_back({}); }) {
            fill<typename T::value_type>([&](auto each) { value.push_back(std::move(each)); });
        } else {
            for_members(value, *this);
        }
    }

private:
    std::uint32_t below(std::uint32_t limit) {
        return static_cast<std::uint32_t>(dice_.below(static_cast<int>(limit)));
    }
    template <class Each>
    void fill(auto&& add) {
        for (std::uint32_t left = below(3); left > 0; --left) {
            Each each;
            (*this)(each);
            add(std::move(each));
        }
    }

    tests::Dice& dice_;
};

/// Among many random things: those with one key are equal, and equal ones have one key.
template <class Thing>
void check_keys(std::uint32_t seeds) {
    std::map<explore::Key, Thing> known;
    for (std::uint32_t seed = 0; seed < seeds; ++seed) {
        tests::Dice dice(seed);
        Thing thing;
        Filler fill(dice);
        fill(thing);
        const auto [found, fresh] = known.try_emplace(explore::key_of(thing), thing);
        if (!fresh) CHECK(found->second == thing);
        Thing twin;
        tests::Dice same(seed);
        Filler refill(same);
        refill(twin);
        CHECK(explore::key_of(twin) == found->first);
    }
    CHECK(known.size() > 10);
}

/// All values of a small struct: as many keys as values.
template <class Thing>
std::size_t distinct_keys(const std::vector<Thing>& things) {
    std::set<explore::Key> keys;
    for (const Thing& thing : things) keys.insert(explore::key_of(thing));
    return keys.size();
}

} // namespace

TEST_CASE("keys: different states of the flow have different keys") {
    check_keys<flow::Checkpoint>(200);
    check_keys<flow::Cursor>(200);
    check_keys<flow::RunState>(4'000);
    check_keys<flow::SwitchState>(4'000);
    check_keys<flow::State>(4'000);
}

TEST_CASE("keys: different levels and players have different keys") {
    check_keys<explore::LevelThere>(500);
    check_keys<std::vector<explore::LevelThere>>(2'000);
    check_keys<explore::PlayerNow>(4'000);
}

TEST_CASE("keys: what stands in one list does not slip into the next") {
    const plan::LevelId quay{std::size_t{1}}, hall{std::size_t{2}};
    flow::SwitchState with, family;
    with.with = {quay, hall};
    with.family = {};
    family.with = {quay};
    family.family = {hall};
    CHECK(explore::key_of(with) != explore::key_of(family));

    flow::State veiled, running;
    veiled.veils = {{plan::VeilId{std::size_t{0}}, flow::PlayerId{std::size_t{0}}}};
    running.runs.emplace_back();
    CHECK(explore::key_of(veiled) != explore::key_of(running));
    CHECK(explore::key_of(veiled) != explore::key_of(flow::State{}));
}

TEST_CASE("keys: neighbouring flags share a number, and are told apart") {
    std::vector<explore::LevelThere> all;
    for (unsigned bits = 0; bits < 32; ++bits)
        all.push_back({plan::LevelId{std::size_t{7}}, (bits & 1) != 0, (bits & 2) != 0,
                       (bits & 4) != 0, (bits & 8) != 0, (bits & 16) != 0});
    CHECK(distinct_keys(all) == 32);
    CHECK(explore::key_of(all.front()).size() == 2); // the level, and its flags
}

TEST_CASE("keys: numbers wider than 32 bits are whole in them") {
    explore::PlayerNow one, other;
    one.walked = plan::Micros{std::int64_t{1} << 40};
    CHECK(explore::key_of(one) != explore::key_of(other));
    other.walked = one.walked;
    CHECK(explore::key_of(one) == explore::key_of(other));
    one.speed = 4.5;
    other.speed = 4.500001;
    CHECK(explore::key_of(one) != explore::key_of(other));
}
