#pragma once
// Several processes, maybe on several machines, that do one thing together. All of them come to the
// same calls in the same order.

#include <algorithm>
#include <cstring>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::plan {

/// Another process could not begin.
class TeamBroken : public std::runtime_error {
public:
    TeamBroken() : std::runtime_error("another process could not begin") {}
};

class Team {
public:
    Team() = default;
    Team(const Team&) = delete;
    Team& operator=(const Team&) = delete;
    virtual ~Team() = default;

    [[nodiscard]] virtual std::size_t rank() const = 0; ///< from 0
    [[nodiscard]] virtual std::size_t size() const = 0;
    /// All are here, and have found nothing wrong; throws TeamBroken where one has.
    virtual void begin() = 0;
    /// What each of them has, by rank. Only between `begin` and `end`.
    virtual std::vector<std::string> all_of(const std::string& mine) = 0;
    /// What is done together is done; the first alone tells of it.
    virtual void end() = 0;
};

/// The same where there may be none: then this process is the only one.
inline std::size_t rank_of(const Team* team) {
    return team == nullptr ? 0 : team->rank();
}
inline std::size_t size_of(const Team* team) {
    return team == nullptr ? 1 : team->size();
}

/// Things of one kind as bytes, behind others.
template <class T>
void pack(std::string& bytes, const T* things, std::size_t count) {
    bytes.append(reinterpret_cast<const char*>(&count), sizeof(count));
    bytes.append(reinterpret_cast<const char*>(things), count * sizeof(T));
}
/// And back, from the front, which is taken away; how many they are.
template <class T>
std::size_t unpack(std::string_view& bytes, std::vector<T>& things) {
    std::size_t count = 0;
    std::memcpy(&count, bytes.data(), sizeof(count));
    bytes.remove_prefix(sizeof(count));
    things.resize(std::max(things.size(), count));
    if (count > 0) std::memcpy(things.data(), bytes.data(), count * sizeof(T));
    bytes.remove_prefix(count * sizeof(T));
    return count;
}

} // namespace hestrel::plan
