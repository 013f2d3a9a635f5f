// hestrel language-server: findings, completion and renaming in an editor.

#include "command/output.hpp"
#include "command/reading.hpp"
#include "serve/messages.hpp"
#include "serve/server.hpp"

#include <array>
#include <cerrno>
#include <cstdio>
#include <hestrel/version.hpp>
#include <poll.h>
#include <unistd.h>

namespace hestrel::command {

namespace {

/// Standard input, as far as it has come.
class Incoming {
public:
    /// Waits for more where nothing is there; whether something came. False at the end.
    bool more() {
        std::array<char, 65536> bytes{};
        ssize_t count = 0;
        do {
            count = ::read(STDIN_FILENO, bytes.data(), bytes.size());
        } while (count < 0 && errno == EINTR);
        if (count <= 0) return false;
        reader_.add({bytes.data(), static_cast<std::size_t>(count)});
        return true;
    }
    /// Whether more would come at once, or within so many milliseconds.
    static bool waits(int milliseconds) {
        pollfd input{STDIN_FILENO, POLLIN, 0};
        return ::poll(&input, 1, milliseconds) > 0;
    }
    std::optional<std::string> next() { return reader_.next(); }
    [[nodiscard]] bool has_rest() const { return reader_.has_rest(); }

private:
    serve::MessageReader reader_;
};

int run_language_server(const Call& call) {
    (void)call;
    source::RealDisk disk;
    serve::Server server(disk, HESTREL_VERSION, [](const std::string& message) {
        Output::put(serve::framed(message));
        std::fflush(stdout);
    });
    Incoming incoming;
    // Who types on within that time is not told of findings in between.
    constexpr int pause = 50;
    while (!server.has_ended()) {
        try {
            if (const auto message = incoming.next()) {
                server.take(*message);
                continue;
            }
        } catch (const serve::ProtocolError& error) {
            throw UsageError(std::string("standard input: ") + error.what());
        }
        if (server.has_news() && !Incoming::waits(pause)) {
            server.read_plans();
            // Who has asked in the meantime is answered before anything is checked.
            if (!Incoming::waits(0)) server.say_findings();
            continue;
        }
        if (!incoming.more()) {
            if (incoming.has_rest())
                throw UsageError("standard input ends in the middle of a message");
            if (server.has_news()) server.say_findings();
            break;
        }
    }
    return server.exit_code();
}

constexpr std::string_view language_server_usage = R"(usage: hestrel language-server

Speaks the Language Server Protocol on standard input and output. An editor starts it.
While you type you then have the findings of check over all files of the plan,
completion, cards, definitions, references, renaming, and what to do about a finding.
To read how an editor is set up: hestrel help editors)";

} // namespace

Command language_server_command() {
    return {"language-server",
            "",
            "findings, completion and renaming while one types, for editors",
            language_server_usage,
            options_for("language-server", {}),
            &run_language_server,
            {},
            0,
            ""};
}

} // namespace hestrel::command
