// hestrel-mpi: explore and spread, shared by the processes that mpirun starts, on one machine or
// many. The first of them alone writes files and prints.

#include "command/commands.hpp"
#include "mpi/mpi_team.hpp"

#include <boost/mpi/environment.hpp>
#include <cstdio>
#include <fcntl.h>
#include <unistd.h>

namespace {

/// Nothing of this process is printed, but what it says of an error is held back.
class Silence {
public:
    Silence() : said_(std::tmpfile()), error_(::dup(STDERR_FILENO)) {
        const int nowhere = ::open("/dev/null", O_WRONLY | O_CLOEXEC);
        if (nowhere >= 0) {
            ::dup2(nowhere, STDOUT_FILENO);
            ::close(nowhere);
        }
        if (said_ != nullptr) ::dup2(::fileno(said_), STDERR_FILENO);
    }
    Silence(const Silence&) = delete;
    Silence& operator=(const Silence&) = delete;
    ~Silence() {
        if (said_ != nullptr) std::fclose(said_);
        if (error_ >= 0) ::close(error_);
    }
    /// Prints what was held back.
    void end() const {
        if (said_ == nullptr || error_ < 0) return;
        std::rewind(said_);
        char line[4096];
        while (std::fgets(line, sizeof(line), said_) != nullptr) ::dprintf(error_, "%s", line);
    }

private:
    std::FILE* said_;
    int error_;
};

} // namespace

int main(int argc, char** argv) {
    hestrel::command::prepare_process();
    const boost::mpi::environment environment(argc, argv, boost::mpi::threading::funneled, false);
    const auto team = std::make_shared<hestrel::mpi::MpiTeam>();
    std::unique_ptr<Silence> silence;
    if (team->rank() != 0) silence = std::make_unique<Silence>();
    const bool alone = team->size() == 1;
    const int code = hestrel::command::run(hestrel::command::Arguments(argv + 1, argv + argc),
                                           alone ? nullptr : team);
    return team->finish(code, [&] {
        if (silence) silence->end();
    });
}
