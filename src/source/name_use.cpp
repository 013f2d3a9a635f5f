#include "source/name_use.hpp"

namespace hestrel::source {

namespace {

bool of_a_word(char c) {
    return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_' ||
           c == '-';
}

} // namespace

std::uint32_t count_word(std::string_view text, std::string_view word) {
    std::uint32_t count = 0;
    for (std::size_t at = find_word(text, word, 0, 0); at != std::string_view::npos;
         at = find_word(text, word, 0, at + word.size())) {
        ++count;
    }
    return count;
}

std::size_t find_word(std::string_view text, std::string_view word, std::uint32_t nth,
                      std::size_t from) {
    if (word.empty()) return std::string_view::npos; // no word stands anywhere
    for (std::size_t at = text.find(word, from); at != std::string_view::npos;
         at = text.find(word, at + 1)) {
        const bool begins = at == from || at == 0 || !of_a_word(text[at - 1]);
        const bool ends = at + word.size() == text.size() || !of_a_word(text[at + word.size()]);
        if (!begins || !ends) continue;
        if (nth == 0) return at;
        --nth;
    }
    return std::string_view::npos;
}

} // namespace hestrel::source
