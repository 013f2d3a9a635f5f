#pragma once
// What carries (docs/model.md section 7): what becomes of each fact in each transition.

#include "flow/facts.hpp"
#include "flow/stage.hpp"
#include "plan/plan.hpp"

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace hestrel::flow {

/// What a transition did with a fact.
enum class Carrying : std::uint8_t { kept, set, reset, saved, restored };

/// What a transition is of; both unset: the game was launched again.
struct CarryCause {
    plan::ListId list;
    plan::LevelId near; ///< of a near rule
    auto operator<=>(const CarryCause&) const = default;
    [[nodiscard]] bool known() const { return list || near; }
};

/// "trigger quay-approach", "far from mooring-boats", "launch again".
std::string name_of(const plan::Plan& plan, const CarryCause& cause);

/// A fact in a kind of transition, with the values before and after.
struct Carried {
    plan::FactId fact;
    CarryCause by;
    FactValue from = 0, to = 0;
    Carrying how = Carrying::kept;
    auto operator<=>(const Carried&) const = default;
};

/// How often each was met.
using Carries = std::map<Carried, std::size_t>;
void add(Carries& to, const Carries& more);

/// Notes what becomes of facts while a game goes on.
class CarryLog {
public:
    explicit CarryLog(const plan::Plan& plan) : plan_(&plan) {}

    /// Facts are so now; nothing was noted yet.
    void begin(const Facts& facts);
    /// Something happened; `by`: whose run it was, unset: nobody's.
    void note(const Event& event, CarryCause by, const Facts& facts);
    /// The game was launched again.
    void launched(const Facts& facts);
    /// In order.
    [[nodiscard]] const std::vector<Carried>& all() const { return all_; }

private:
    void changed(FactSlot slot, CarryCause by, const Facts& facts, Carrying how);

    const plan::Plan* plan_;
    FactValues known_;
    RunId restoring_;
    std::vector<Carried> all_;
    std::map<RunId, std::vector<FactSlot>> touched_; ///< by runs that have not switched yet
};

} // namespace hestrel::flow
