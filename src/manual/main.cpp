// hestrel-manual DIR: writes the manual pages and the completions of shells, when packages are
// made.

#include "command/commands.hpp"
#include "manual/completion_scripts.hpp"
#include "manual/man_page.hpp"
#include "source/disk.hpp"

#include <cstdio>
#include <fmt/format.h>
#include <hestrel/version.hpp>

namespace {

void write(const std::string& folder) {
    using namespace hestrel;
    source::RealDisk disk;
    disk.write(folder + "/man1/hestrel.1", manual::overview_page(HESTREL_VERSION));
    for (const command::Command& each : command::commands())
        disk.write(fmt::format("{}/man1/hestrel-{}.1", folder, each.name),
                   manual::man_page(each, HESTREL_VERSION));
    disk.write(folder + "/man1/hestrel-mpi.1", manual::mpi_page(HESTREL_VERSION));
    disk.write(folder + "/completions/hestrel", manual::bash_completion());
    disk.write(folder + "/completions/_hestrel", manual::zsh_completion());
    disk.write(folder + "/completions/hestrel.fish", manual::fish_completion());
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        std::fputs("usage: hestrel-manual DIR\n", stderr);
        return hestrel::command::exit_code::wrong_usage;
    }
    try {
        write(argv[1]);
        return hestrel::command::exit_code::fine;
    } catch (const std::exception& error) {
        std::fprintf(stderr, "hestrel-manual: %s\n", error.what());
        return hestrel::command::exit_code::file_trouble;
    }
}
