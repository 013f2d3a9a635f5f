#include "explore/bits.hpp"

namespace hestrel::explore {

void ask_for(FewBits& bits, const Field& field, const Word* row) {
    auto at = bits.begin();
    while (at != bits.end() && at->word < field.word) ++at;
    if (at == bits.end() || at->word != field.word) at = bits.insert(at, {field.word, 0, 0});
    at->mask |= field.mask();
    at->value = row[field.word] & at->mask;
}

FewBits difference(const Word* before, const Word* after, std::size_t words) {
    FewBits bits;
    for (std::uint32_t word = 0; word < words; ++word) {
        const Word changed = before[word] ^ after[word];
        if (changed != 0) bits.push_back({word, changed, after[word] & changed});
    }
    return bits;
}

} // namespace hestrel::explore
