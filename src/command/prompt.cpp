#include "command/prompt.hpp"

#include "command/terminal.hpp"

#include <algorithm>
#include <cstdio>
#include <histedit.h>

namespace hestrel::command {

namespace {

constexpr int most_remembered = 1000; ///< of history

/// A line may not be longer: what comes without end is no line.
constexpr std::size_t longest = 1'000'000;

/// The part that all have in common.
std::string common_start(const std::vector<std::string>& words) {
    std::string start = words.front();
    for (const std::string& word : words) {
        const auto differs =
            std::mismatch(start.begin(), start.end(), word.begin(), word.end()).first;
        start.erase(differs, start.end());
    }
    return start;
}

} // namespace

/// The editor of libedit, and what it keeps.
struct Prompt::Editor {
    explicit Editor(Completions to_complete)
        : completions(std::move(to_complete)), line(::el_init("hestrel", stdin, stdout, stderr)),
          history(::history_init()) {
        ::el_set(line, EL_CLIENTDATA, this);
        ::el_set(line, EL_PROMPT, &prompt);
        ::el_set(line, EL_EDITOR, "emacs");
        ::el_set(line, EL_SIGNAL, 0);
        ::el_set(line, EL_ADDFN, "hestrel-complete", "completes a word", &complete);
        ::el_set(line, EL_BIND, "^I", "hestrel-complete", nullptr);
        HistEvent event{};
        ::history(history, &event, H_SETSIZE, most_remembered);
        ::history(history, &event, H_SETUNIQUE, 1);
        ::el_set(line, EL_HIST, ::history, history);
        // Ctrl-C breaks the line off, and nothing else.
        ::el_set(line, EL_SETTY, "-d", "-isig", nullptr);
        ::el_set(line, EL_ADDFN, "hestrel-break-off", "breaks the line off", &break_off);
        ::el_set(line, EL_BIND, "^C", "hestrel-break-off", nullptr);
    }
    Editor(const Editor&) = delete;
    Editor& operator=(const Editor&) = delete;
    ~Editor() {
        ::history_end(history);
        ::el_end(line);
    }

    static char* prompt(EditLine* /*line*/) {
        static std::string text = "> ";
        return text.data();
    }
    static unsigned char complete(EditLine* line, int /*key*/) {
        Editor* self = nullptr;
        ::el_get(line, EL_CLIENTDATA, &self);
        const LineInfo* info = ::el_line(line);
        const std::string_view typed(info->buffer,
                                     static_cast<std::size_t>(info->cursor - info->buffer));
        const std::vector<std::string> words = self->completions(typed);
        if (words.empty()) return CC_REFRESH_BEEP;
        const std::size_t begun = typed.size() - (typed.find_last_of(" \t(") + 1);
        std::string more = common_start(words).substr(begun);
        if (words.size() == 1 && !words.front().ends_with('(')) more += ' ';
        if (!more.empty()) return ::el_insertstr(line, more.c_str()) == 0 ? CC_REFRESH : CC_ERROR;
        self->list(words);
        return CC_REDISPLAY;
    }
    static unsigned char break_off(EditLine* line, int /*key*/) {
        Editor* self = nullptr;
        ::el_get(line, EL_CLIENTDATA, &self);
        self->broken_off = true;
        std::fputs("^C\n", stdout);
        return CC_NEWLINE;
    }
    static void list(const std::vector<std::string>& words) {
        constexpr std::size_t most = 60;
        std::string text;
        for (std::size_t i = 0; i < std::min(words.size(), most); ++i)
            text += (i == 0 ? "" : "  ") + words[i];
        if (words.size() > most) text += "  …";
        std::fputs(("\n" + wrapped(text, text_columns, "")).c_str(), stdout);
    }

    Completions completions;
    EditLine* line;
    History* history;
    bool broken_off = false;
};

Prompt::Prompt(Completions completions) {
    if (command::on_terminal(stdin) && command::on_terminal(stdout))
        editor_ = std::make_unique<Editor>(std::move(completions));
}

Prompt::~Prompt() = default;

std::optional<std::string> Prompt::next() {
    if (!editor_) {
        std::string line;
        for (int c = std::getchar(); c != EOF; c = std::getchar()) {
            if (c == '\n') return line;
            if (line.size() < longest) line += static_cast<char>(c);
        }
        if (line.empty()) return std::nullopt;
        return line;
    }
    std::fflush(stdout);
    const char* typed = nullptr;
    int count = 0;
    do {
        editor_->broken_off = false;
        // By itself libedit shows the prompt first, and a Ctrl-C in between would end the program.
        ::el_set(editor_->line, EL_PREP_TERM, 1);
        typed = ::el_gets(editor_->line, &count);
    } while (editor_->broken_off);
    if (typed == nullptr || count <= 0) {
        std::fputs("\n", stdout);
        return std::nullopt;
    }
    std::string line(typed, static_cast<std::size_t>(count));
    while (line.ends_with('\n') || line.ends_with('\r')) line.pop_back();
    if (line.find_first_not_of(' ') != std::string::npos) {
        HistEvent event{};
        ::history(editor_->history, &event, H_ENTER, line.c_str());
    }
    return line;
}

} // namespace hestrel::command
