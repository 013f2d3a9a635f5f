#include "source/leftovers.hpp"

#include <array>
#include <csignal>
#include <filesystem>
#include <mutex>
#include <pthread.h>
#include <system_error>
#include <thread>
#include <unistd.h>
#include <utility>

namespace hestrel::source {

namespace {

struct Registry {
    std::mutex guard;
    std::list<std::string> paths;
};

Registry& registry() {
    static auto* const all = new Registry; // a signal may come while the process ends by itself
    return *all;
}

/// Waits for one of the signals, removes what is registered, and lets the signal do what it does.
[[noreturn]] void wait_and_remove(sigset_t signals) {
    int signal = 0;
    while (::sigwait(&signals, &signal) != 0) {
    }
    Registry& all = registry();
    all.guard.lock(); // for good: nothing is registered or given up from here on
    for (const std::string& path : all.paths) {
        std::error_code ignored;
        std::filesystem::remove_all(path, ignored);
    }
    std::signal(signal, SIG_DFL);
    ::pthread_sigmask(SIG_UNBLOCK, &signals, nullptr);
    ::kill(::getpid(), signal);
    while (true) ::pause();
}

} // namespace

Leftover::Leftover(std::string path) {
    Registry& all = registry();
    const std::scoped_lock lock(all.guard);
    entry_ = all.paths.insert(all.paths.end(), std::move(path));
}

Leftover::~Leftover() {
    Registry& all = registry();
    const std::scoped_lock lock(all.guard);
    all.paths.erase(entry_);
}

void remove_leftovers_at_signals() {
    sigset_t signals;
    ::sigemptyset(&signals);
    for (const int signal : std::array{SIGINT, SIGTERM, SIGHUP}) {
        struct sigaction now {};
        ::sigaction(signal, nullptr, &now);
        if (now.sa_handler != SIG_IGN) ::sigaddset(&signals, signal);
    }
    ::pthread_sigmask(SIG_BLOCK, &signals, nullptr);
    try {
        std::thread(wait_and_remove, signals).detach();
    } catch (const std::exception&) {
        ::pthread_sigmask(SIG_UNBLOCK, &signals, nullptr);
    }
}

} // namespace hestrel::source
