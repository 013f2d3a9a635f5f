#pragma once
// Names while a plan is read: what stands inside a level is named plainly there and in its
// sublevels, and `level.name` from anywhere else (docs/model.md section 2).

#include "plan/plan.hpp"
#include "source/did_you_mean.hpp"

#include <cstddef>
#include <functional>
#include <optional>
#include <string_view>
#include <tsl/robin_map.h>
#include <utility>
#include <vector>

namespace hestrel::source {

/// Where plain names are looked up: inside a level, then in those around it, then outside.
struct Scope {
    const plan::Table<plan::LevelId, plan::Level>* levels = nullptr;
    std::function<plan::LevelId(std::string_view)> level_called;
    plan::LevelId level; ///< unset: outside of levels
};

/// While it lives, plain names are looked up inside a level.
class InsideLevel {
public:
    InsideLevel(Scope& scope, plan::LevelId level) : scope_(scope), before_(scope.level) {
        scope.level = level;
    }
    InsideLevel(const InsideLevel&) = delete;
    InsideLevel& operator=(const InsideLevel&) = delete;
    ~InsideLevel() { scope_.level = before_; }

private:
    Scope& scope_;
    plan::LevelId before_;
};

/// Names of one kind of thing, and where each was defined.
template <class Id>
class Names {
public:
    /// What a name was found to mean.
    struct Found {
        Id id;
        plan::Place place;
        plan::LevelId level; ///< the level inside which it stands; unset: outside of levels
        std::size_t at = 0;  ///< where in the name the plain one begins
        explicit operator bool() const { return static_cast<bool>(id); }
    };

    /// `owner`: what things of this kind belong to, where their names are its own.
    explicit Names(std::string_view kind, std::string_view owner = {})
        : kind_(kind), owner_(owner) {}
    /// Of a kind that may stand inside levels.
    Names(std::string_view kind, const Scope& scope) : kind_(kind), scope_(&scope) {}

    /// The earlier definition where there is one already. `full`: `level.name`, where it stands
    /// inside a level; it must outlive this.
    std::optional<plan::Place> define(std::string_view name, Id id, plan::Place place,
                                      plan::LevelId level = {}, std::string_view full = {}) {
        const auto [found, fresh] = ids_.try_emplace(Key{level.value, name}, Defined{id, place});
        if (!fresh) return found->second.place;
        order_.push_back(level ? full : name);
        if (level) inside_.try_emplace(name, full);
        return std::nullopt;
    }
    [[nodiscard]] Id find(std::string_view name) const { return look_up(name).id; }
    /// What a name means where the scope is now.
    [[nodiscard]] Found look_up(std::string_view name) const {
        if (scope_ == nullptr || inside_.empty()) return in_level({}, name, 0);
        if (const std::size_t dot = name.rfind('.'); dot != std::string_view::npos) {
            const plan::LevelId level = scope_->level_called(name.substr(0, dot));
            return level ? in_level(level, name.substr(dot + 1), dot + 1) : Found{};
        }
        for (plan::LevelId level = scope_->level; level; level = (*scope_->levels)[level].parent) {
            if (const Found found = in_level(level, name, 0)) return found;
        }
        return in_level({}, name, 0);
    }
    /// What a level inside which things of this kind stand is called.
    [[nodiscard]] std::string_view level_name(plan::LevelId level) const {
        return (*scope_->levels)[level].name;
    }
    [[nodiscard]] std::string_view kind() const { return kind_; }
    [[nodiscard]] std::string_view owner() const { return owner_; }
    /// In full.
    [[nodiscard]] const std::vector<std::string_view>& all() const { return order_; }
    /// The one that differs from `wrong` only in capitals; empty where none does.
    [[nodiscard]] std::string_view in_other_capitals(std::string_view wrong) const {
        return small_.find(wrong, order_);
    }
    /// A name inside some level, in full, that is `plain` there; empty where none is.
    [[nodiscard]] std::string_view inside_another(std::string_view plain) const {
        const auto found = inside_.find(plain);
        return found == inside_.end() ? std::string_view() : found->second;
    }

private:
    struct Key {
        std::uint32_t level;
        std::string_view name;
        bool operator==(const Key&) const = default;
    };
    struct Hash {
        std::size_t operator()(const Key& key) const {
            constexpr std::size_t mixing = 0x9e3779b97f4a7c15ULL;
            return std::hash<std::string_view>()(key.name) ^ (key.level + 1) * mixing;
        }
    };
    struct Defined {
        Id id;
        plan::Place place;
    };
    [[nodiscard]] Found in_level(plan::LevelId level, std::string_view name, std::size_t at) const {
        const auto found = ids_.find(Key{level.value, name});
        if (found == ids_.end()) return {};
        return {found->second.id, found->second.place, level, at};
    }

    std::string_view kind_; ///< "level", for messages
    std::string_view owner_;
    const Scope* scope_ = nullptr;
    tsl::robin_map<Key, Defined, Hash> ids_;
    tsl::robin_map<std::string_view, std::string_view> inside_; ///< in full, by plain name
    std::vector<std::string_view> order_;
    mutable SmallLetters small_; ///< made when first asked
};

} // namespace hestrel::source
