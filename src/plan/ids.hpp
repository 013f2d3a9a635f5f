#pragma once
// Small index types: every name of a plan becomes one of these once, so that no engine compares a
// string.

#include <compare>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <utility>
#include <vector>

namespace hestrel::plan {

/// An index into one table of the plan. `Tag` keeps a level from being mistaken for a kit.
template <class Tag>
struct Index {
    static constexpr std::uint32_t no_value = std::numeric_limits<std::uint32_t>::max();
    std::uint32_t value = no_value; ///< position in its table; `no_value` where there is none

    constexpr Index() = default;
    constexpr explicit Index(std::size_t position) : value(static_cast<std::uint32_t>(position)) {}
    constexpr explicit operator bool() const { return value != no_value; }
    constexpr auto operator<=>(const Index&) const = default;
};

using DeviceId = Index<struct DeviceTag>;
using PoolId = Index<struct PoolTag>;
using KitId = Index<struct KitTag>;
using LevelId = Index<struct LevelTag>;
using GridId = Index<struct GridTag>;
using GroupId = Index<struct GroupTag>;
using WorldId = Index<struct WorldTag>;
using WaypointId = Index<struct WaypointTag>;
using PathId = Index<struct PathTag>;
using TriggerId = Index<struct TriggerTag>;
using MenuId = Index<struct MenuTag>;
using ItemId = Index<struct ItemTag>;
using VeilId = Index<struct VeilTag>;
using PlayerKindId = Index<struct PlayerKindTag>;
using EditionId = Index<struct EditionTag>;
using RouteId = Index<struct RouteTag>;
using MachineId = Index<struct MachineTag>; ///< of one route; the first keeps the game
using ListId = Index<struct ListTag>;
using NamedListId = Index<struct NamedListTag>;
using GateId = Index<struct GateTag>;
using FactId = Index<struct FactTag>;
using PurposeId = Index<struct PurposeTag>;
using RuleId = Index<struct RuleTag>;
using ConditionId = Index<struct ConditionTag>;
using WordId = Index<struct WordTag>;

/// A vector that is indexed by its own index type, and by no other.
template <class Id, class T>
class Table {
public:
    Table() = default;
    explicit Table(std::size_t size, const T& value = T{}) : items_(size, value) {}

    decltype(auto) operator[](Id id) { return items_[id.value]; }
    decltype(auto) operator[](Id id) const { return items_[id.value]; }
    Id push(T item) {
        items_.push_back(std::move(item));
        return Id{items_.size() - 1};
    }
    void resize(std::size_t size) { items_.resize(size); }
    void assign(std::size_t size, const T& value) { items_.assign(size, value); }
    [[nodiscard]] std::size_t size() const { return items_.size(); }
    [[nodiscard]] bool empty() const { return items_.empty(); }
    bool operator==(const Table&) const = default;
    auto begin() { return items_.begin(); }
    auto end() { return items_.end(); }
    auto begin() const { return items_.begin(); }
    auto end() const { return items_.end(); }

    /// All ids in table order, for `for (auto id : table.ids())`.
    struct Ids {
        struct Iterator {
            std::size_t at;
            Id operator*() const { return Id{at}; }
            Iterator& operator++() {
                ++at;
                return *this;
            }
            bool operator!=(const Iterator& other) const { return at != other.at; }
        };
        std::size_t count;
        [[nodiscard]] Iterator begin() const { return {0}; }
        [[nodiscard]] Iterator end() const { return {count}; }
    };
    [[nodiscard]] Ids ids() const { return {items_.size()}; }

private:
    std::vector<T> items_;
};

} // namespace hestrel::plan
