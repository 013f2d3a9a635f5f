#pragma once
// The processes that mpirun has started, as a team. Only collectives are used: nothing hangs on
// which message comes first.

#include "plan/team.hpp"

#include <boost/mpi/communicator.hpp>
#include <functional>

namespace hestrel::mpi {

class MpiTeam final : public plan::Team {
public:
    [[nodiscard]] std::size_t rank() const override {
        return static_cast<std::size_t>(world_.rank());
    }
    [[nodiscard]] std::size_t size() const override {
        return static_cast<std::size_t>(world_.size());
    }
    void begin() override;
    std::vector<std::string> all_of(const std::string& mine) override;
    void end() override { is_together_ = false; }

    /// To be called once, with the exit code of this process; returns the worst of all. A process
    /// that failed while the others wait for it ends them all. `last_words` is called where this
    /// one failed as the first did not: nobody else tells why.
    int finish(int code, const std::function<void()>& last_words);

private:
    boost::mpi::communicator world_;
    bool has_begun_ = false;
    bool is_together_ = false;
};

} // namespace hestrel::mpi
