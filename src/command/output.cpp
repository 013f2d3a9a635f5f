#include "command/output.hpp"

#include "command/terminal.hpp"
#include "source/utf8.hpp"

#include <cerrno>
#include <cstdio>
#include <fmt/format.h>

namespace hestrel::command {

namespace {

/// Whether nobody reads results any more. Files are still written then.
bool& reader_is_gone() {
    static bool gone = false;
    return gone;
}

/// Bytes on standard output. That it takes no more is told at the end, once: `results_are_out`.
void put_out(std::string_view bytes) {
    if (reader_is_gone()) return;
    errno = 0;
    if (std::fwrite(bytes.data(), 1, bytes.size(), stdout) != bytes.size() && errno == EPIPE)
        reader_is_gone() = true;
}

void flush_results() {
    if (reader_is_gone()) return;
    errno = 0;
    if (std::fflush(stdout) != 0 && errno == EPIPE) reader_is_gone() = true;
}

void put_on_stderr(std::string_view bytes) {
    static_cast<void>(std::fwrite(bytes.data(), 1, bytes.size(), stderr));
}

} // namespace

void say(std::string_view line) {
    flush_results();
    put_on_stderr(source::visible(line) + "\n");
}

bool say_errors(const std::vector<std::string>& errors) {
    constexpr std::size_t most_said = 20;
    for (std::size_t i = 0; i < errors.size() && i < most_said; ++i) say(errors[i]);
    if (errors.size() > most_said) say(fmt::format("and {} more", errors.size() - most_said));
    return !errors.empty();
}

bool results_are_out() {
    flush_results();
    return reader_is_gone() || std::ferror(stdout) == 0;
}

void Output::print(std::string_view text) {
    put_out(source::visible(text));
}

void Output::print_painted(std::string_view text) {
    std::string out;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t next = std::min(text.find("\x1b[", at), text.size());
        out += source::visible(text.substr(at, next - at));
        if (next == text.size()) break;
        const std::size_t end = text.find_first_not_of("0123456789;", next + 2);
        const bool paints = end != std::string_view::npos && text[end] == 'm';
        const std::size_t behind = paints ? end + 1 : next + 1;
        const std::string_view part = text.substr(next, behind - next);
        out += paints ? std::string(part) : source::visible(part);
        at = behind;
    }
    put_out(out);
}

void Output::put(std::string_view data) {
    if (on_terminal(stdout))
        print(data);
    else
        put_out(data);
}

void Output::draw(const NamedFigures& named) {
    const auto draw_as = [&](figure::Picture picture, const char* ending) {
        const std::vector<figure::Drawn> all = figure::draw(named.figures, picture);
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (all[i].problem.empty()) {
                write(named.names[i] + ending, all[i].picture);
                continue;
            }
            const std::scoped_lock lock(drawing_);
            undrawn_.emplace(named.names[i], all[i].problem);
        }
    };
    draw_as(figure::Picture::svg, ".svg");
    if (options_.png) draw_as(figure::Picture::png, ".png");
}

void Output::draw(const std::string& name, const figure::Graph& graph) {
    try {
        write(name + ".svg", figure::draw(graph, figure::Picture::svg));
        if (options_.png) write(name + ".png", figure::draw(graph, figure::Picture::png));
    } catch (const figure::DrawingError& error) {
        const std::scoped_lock lock(drawing_);
        undrawn_.emplace(name, error.what());
    }
}

void Output::require_drawn() const {
    if (!undrawn_.empty()) throw figure::DrawingError(undrawn_.begin()->second);
}

bool Output::shows_progress() const {
    return !options_.quiet && on_terminal(stderr);
}

void Output::show_progress(std::string_view text) {
    put_on_stderr(fmt::format("\r{}\033[K", source::visible(text)));
}

void Output::clear_progress() {
    put_on_stderr("\r\033[K");
}

} // namespace hestrel::command
