#pragma once
// Lines that a person types on a terminal, with editing, history and completion; from a pipe as
// they come.

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::command {

/// Where lines come from.
class Prompt {
public:
    /// What could stand where the last word of a line begins.
    using Completions = std::function<std::vector<std::string>(std::string_view line)>;

    explicit Prompt(Completions completions);
    Prompt(const Prompt&) = delete;
    Prompt& operator=(const Prompt&) = delete;
    ~Prompt();

    /// The next line without its end; nothing at the end of the file. A line that is broken off
    /// (Ctrl-C) counts for nothing.
    std::optional<std::string> next();
    /// A person types, on a terminal.
    [[nodiscard]] bool on_terminal() const { return editor_ != nullptr; }

private:
    struct Editor;
    std::unique_ptr<Editor> editor_;
};

} // namespace hestrel::command
