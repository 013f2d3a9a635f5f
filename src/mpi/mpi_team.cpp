#include "mpi/mpi_team.hpp"

#include <algorithm>
#include <boost/mpi/collectives.hpp>
#include <boost/mpi/collectives/all_gatherv.hpp>

namespace hestrel::mpi {

namespace {

/// What a process says that begins, and what one says that ended before that and has found nothing
/// wrong, as after --help; else its exit code.
constexpr int begins = -1;
constexpr int has_ended = -2;
/// So many bytes of each: MPI counts them with 32 bits.
constexpr std::size_t sent_at_once = std::size_t{1} << 24;

} // namespace

void MpiTeam::begin() {
    has_begun_ = true;
    std::vector<int> all;
    boost::mpi::all_gather(world_, begins, all);
    if (std::any_of(all.begin(), all.end(), [](int each) { return each != begins; }))
        throw plan::TeamBroken();
    is_together_ = true;
}

std::vector<std::string> MpiTeam::all_of(const std::string& mine) {
    std::vector<std::size_t> sizes;
    boost::mpi::all_gather(world_, mine.size(), sizes);
    const std::size_t most = *std::max_element(sizes.begin(), sizes.end());
    std::vector<std::string> all(sizes.size());
    for (std::size_t done = 0; done < most; done += sent_at_once) {
        std::vector<int> counts;
        std::size_t count = 0;
        for (const std::size_t size : sizes) {
            const std::size_t left = std::min(size - std::min(size, done), sent_at_once);
            counts.push_back(static_cast<int>(left));
            count += left;
        }
        std::vector<char> gathered(count);
        const std::size_t from = std::min(mine.size(), done);
        boost::mpi::all_gatherv(world_, mine.data() + from, gathered.data(), counts);
        const char* next = gathered.data();
        for (std::size_t each = 0; each < all.size(); ++each) {
            all[each].append(next, static_cast<std::size_t>(counts[each]));
            next += counts[each];
        }
    }
    return all;
}

int MpiTeam::finish(int code, const std::function<void()>& last_words) {
    if (is_together_) {
        last_words();
        world_.abort(code); // the others would wait for ever
    }
    std::vector<int> all;
    if (!has_begun_) boost::mpi::all_gather(world_, code == 0 ? has_ended : code, all);
    boost::mpi::all_gather(world_, code, all);
    if (code > all.front()) last_words();
    return *std::max_element(all.begin(), all.end());
}

} // namespace hestrel::mpi
