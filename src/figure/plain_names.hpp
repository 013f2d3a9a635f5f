#pragma once
// Names of what stands inside levels, as figures have them: short where that is clear.

#include "plan/names.hpp"
#include "plan/plan.hpp"

#include <map>
#include <string>

namespace hestrel::figure {

/// The names of things of one kind: plain where no other one is called so, else in full.
class PlainNames {
public:
    template <class Id, class T>
    explicit PlainNames(const plan::Table<Id, T>& things) {
        for (const T& thing : things) ++called_[std::string(plan::plain_name(thing.name))];
    }
    /// What a thing is called whose name in full that is.
    [[nodiscard]] std::string operator()(const std::string& full) const {
        std::string plain(plan::plain_name(full));
        const auto found = called_.find(plain);
        return found == called_.end() || found->second == 1 ? plain : full;
    }

private:
    std::map<std::string, std::size_t> called_; ///< how many, by plain name
};

} // namespace hestrel::figure
