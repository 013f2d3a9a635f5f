#include "explore/batch.hpp"

namespace hestrel::explore {

void Batch::pack(std::string& bytes, std::size_t words) const {
    plan::pack(bytes, from.data(), from.size());
    plan::pack(bytes, rows.data(), size * words);
    plan::pack(bytes, taken.data(), size);
}

void Batch::unpack(std::string_view& bytes, const StateTable& table) {
    clear();
    from.resize(plan::unpack(bytes, from));
    plan::unpack(bytes, rows);
    size = plan::unpack(bytes, taken);
    hashes.resize(taken.size());
    for (std::size_t i = 0; i < size; ++i) hashes[i] = table.hash(rows.data() + i * table.words());
}

} // namespace hestrel::explore
