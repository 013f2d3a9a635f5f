#pragma once
// The lines that play takes, and what it answers to each. What routes say is read as a plan is:
// there is no second language.

#include "command/reading.hpp"
#include "play/session.hpp"
#include "source/open_plan.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace hestrel::command {

/// A game that is played by lines.
class PlayLines {
public:
    /// All outlive it.
    PlayLines(source::OpenPlan& open, PlanOnDisk& disk, play::Session& session, bool colour);

    /// What to print for a line; a line that can't be done gets one message and changes nothing.
    std::string answer(std::string_view line);
    /// How everything stands.
    [[nodiscard]] std::string state() const;
    /// `quit` was typed.
    [[nodiscard]] bool over() const { return over_; }

    /// What could stand where the last word of a line begins, sorted.
    [[nodiscard]] std::vector<std::string> completions(std::string_view line) const;

private:
    struct Verb;
    static const std::vector<Verb>& verbs();

    std::string number(std::string_view word);
    std::string step(std::string_view key, std::string_view rest);
    std::string go(std::string_view rest);
    std::string set(std::string_view rest);
    std::string launch(std::string_view rest);
    std::string expect(std::string_view rest);
    std::string with(std::string_view rest);
    std::string undo(std::string_view rest);
    std::string why(std::string_view rest);
    std::string save(std::string_view rest);
    std::string device(std::string_view rest);
    std::string help(std::string_view rest);
    std::string quit(std::string_view rest);
    /// Plays a step from its YAML; `typed` begins behind so many signs of it.
    std::string played(const std::string& yaml, std::string_view typed, std::size_t before);

    [[nodiscard]] std::string could_be(std::string_view yaml) const;

    source::OpenPlan& open_;
    PlanOnDisk& disk_;
    play::Session& session_;
    bool colour_;
    bool over_ = false;
    bool refused_ = false; ///< the last step could not be played
};

} // namespace hestrel::command
