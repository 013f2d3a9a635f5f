#include "explore/bits.hpp"

namespace hestrel::explore {

Bits& bits_of(FewBits& bits, std::uint32_t word) {
    auto at = bits.begin();
    while (at != bits.end() && at->word < word) ++at;
    if (at == bits.end() || at->word != word) at = bits.insert(at, {word, 0, 0});
    return *at;
}

void ask_for(FewBits& bits, const Field& field, const Word* row) {
    Bits& of = bits_of(bits, field.word);
    of.mask |= field.mask();
    of.value = row[field.word] & of.mask;
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
