#pragma once
// The built program in a pseudo-terminal, with somebody who types.

#include "support/program.hpp"

#include <array>
#include <csignal>
#include <fcntl.h>
#include <poll.h>
#include <pty.h>
#include <string>
#include <string_view>

namespace hestrel::tests {

/// One run of the program on a terminal of 100 columns by 24 lines.
class Terminal {
public:
    Terminal(const Folder& folder, std::vector<std::string> arguments) {
        struct winsize size {};
        size.ws_col = 100;
        size.ws_row = 24;
        child_ = ::forkpty(&terminal_, nullptr, nullptr, &size);
        REQUIRE(child_ >= 0);
        if (child_ != 0) return;
        std::vector<char*> words{const_cast<char*>(HESTREL_PROGRAM)};
        for (std::string& each : arguments) words.push_back(each.data());
        words.push_back(nullptr);
        ::setenv("TERM", "xterm", 1);
        // libedit never gives back the names of functions that are added to it.
        ::setenv("ASAN_OPTIONS", "detect_leaks=0", 1);
        if (::chdir(folder.path().c_str()) == 0) ::execv(HESTREL_PROGRAM, words.data());
        ::_exit(127);
    }
    Terminal(const Terminal&) = delete;
    Terminal& operator=(const Terminal&) = delete;
    ~Terminal() {
        ::close(terminal_);
        if (!ended_) ::kill(child_, SIGKILL);
        int status = 0;
        if (!ended_) ::waitpid(child_, &status, 0);
    }

    void type(std::string_view keys) const {
        REQUIRE(::write(terminal_, keys.data(), keys.size()) == static_cast<ssize_t>(keys.size()));
    }
    /// Reads until a text has come, after all that was read before; whether it came.
    bool sees(std::string_view text) {
        while (true) {
            const std::size_t at = seen_.find(text, read_);
            if (at != std::string::npos) {
                read_ = at + text.size();
                return true;
            }
            if (!read_more()) return false;
        }
    }
    /// Its exit code, once it has ended.
    int end() {
        while (read_more()) {
        }
        int status = 0;
        ::waitpid(child_, &status, 0);
        ended_ = true;
        return WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
    }
    [[nodiscard]] const std::string& seen() const { return seen_; }

private:
    bool read_more() {
        constexpr int patience = 20'000; // ms; only a program that hangs takes so long
        struct pollfd waiting {
            terminal_, POLLIN, 0
        };
        if (::poll(&waiting, 1, patience) <= 0) return false;
        std::array<char, 4096> buffer{};
        const ssize_t count = ::read(terminal_, buffer.data(), buffer.size());
        if (count <= 0) return false; // it has ended
        seen_.append(buffer.data(), static_cast<std::size_t>(count));
        return true;
    }

    int terminal_ = -1;
    pid_t child_ = -1;
    bool ended_ = false;
    std::string seen_;
    std::size_t read_ = 0;
};

} // namespace hestrel::tests
