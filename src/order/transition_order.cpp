#include "order/transition_order.hpp"

#include "loading/catalogue.hpp"
#include "order/asking_bound.hpp"
#include "plan/lists.hpp"
#include "study/study.hpp"

#include <algorithm>
#include <numeric>

namespace hestrel::order {

using loading::AloneLoader;
using plan::LevelId;
using plan::Micros;

namespace {

using Order = std::vector<std::size_t>;

/// Tries orders of one list on one device.
class Search {
public:
    Search(const loading::Catalogue& catalogue, const loading::IsolatedLoad& what,
           std::vector<LevelId> awaited)
        : catalogue_(catalogue), what_(what), loader_(catalogue, what),
          awaited_(std::move(awaited)) {}

    [[nodiscard]] const AloneLoader& loader() const { return loader_; }
    [[nodiscard]] Micros time_of(const Order& order) const {
        return loader_.time_of(order, awaited_);
    }

    /// No order is quicker: no level is shown before it would be with nothing beside it.
    [[nodiscard]] Micros bound() const {
        Micros bound = AskingBound(catalogue_, loader_, awaited_).bound();
        for (const LevelId level : awaited_) {
            loading::IsolatedLoad alone = what_;
            alone.asked = {level};
            const AloneLoader only(catalogue_, alone);
            const Order order(only.count() == 0 ? 0 : 1);
            bound = std::max(bound, only.time_of(order, awaited_));
        }
        return bound;
    }

    Order best() {
        best_.resize(loader_.count());
        std::iota(best_.begin(), best_.end(), 0);
        takes_ = time_of(best_);
        least_ = bound();
        swap_neighbours();
        if (best_.size() <= most_tried) {
            AskingBound beginning(catalogue_, loader_, awaited_);
            Order order;
            std::vector<bool> asked(loader_.count(), false);
            work_left_ = most_work;
            try_all(beginning, order, asked);
        }
        exact_ = work_left_ > 0 || takes_ <= least_;
        return best_;
    }
    // What the search found out.
    [[nodiscard]] Micros takes() const { return takes_; }
    [[nodiscard]] Micros least() const { return least_; }
    [[nodiscard]] bool exact() const { return exact_; }

private:
    /// What is awaited first, then neighbours swapped for as long as that helps.
    void swap_neighbours() {
        Order order = best_;
        std::stable_partition(order.begin(), order.end(), [&](std::size_t number) {
            return plan::contains(awaited_, loader_.level(number));
        });
        keep_if_better(order);
        for (bool better = true; better && takes_ > least_;) {
            better = false;
            for (std::size_t i = 0; i + 1 < best_.size(); ++i) {
                Order swapped = best_;
                std::swap(swapped[i], swapped[i + 1]);
                better = keep_if_better(swapped) || better;
            }
        }
    }

    /// All orders that begin with `order`, but for those that the bound rules out.
    void try_all(AskingBound& beginning, Order& order, std::vector<bool>& asked) {
        if (takes_ <= least_) return;
        const bool whole = order.size() == asked.size();
        const bool tried = whole && beginning.whole_time().value_or(Micros{}) < takes_;
        work_left_ -=
            std::min<std::size_t>(work_left_, tried ? 10 : 1); // a load is ten bounds' work
        if (work_left_ == 0) return;
        if (tried) keep_if_better(order);
        if (whole) return;
        for (std::size_t number = 0; number < asked.size(); ++number) {
            if (asked[number]) continue;
            bool first_of_alike = true;
            for (std::size_t other = 0; other < number; ++other)
                first_of_alike =
                    first_of_alike && (asked[other] || !beginning.alike(other, number));
            if (!first_of_alike) continue;
            asked[number] = true;
            order.push_back(number);
            beginning.push(number);
            if (beginning.bound() < takes_) try_all(beginning, order, asked);
            beginning.pop();
            order.pop_back();
            asked[number] = false;
        }
    }

    bool keep_if_better(const Order& order) {
        const Micros takes = time_of(order);
        if (takes >= takes_) return false;
        takes_ = takes;
        best_ = order;
        return true;
    }

    const loading::Catalogue& catalogue_;
    loading::IsolatedLoad what_;
    AloneLoader loader_;
    std::vector<LevelId> awaited_;
    Order best_;
    Micros takes_;
    Micros least_;
    std::size_t work_left_ = 0;
    bool exact_ = true;
};

/// Fills in times and the best order; false where nothing has to be loaded.
bool find_order(const loading::Catalogue& catalogue, const loading::IsolatedLoad& what,
                TransitionOrder& transition) {
    // What is awaited and not asked for is brought by others.
    std::erase_if(transition.awaited,
                  [&](LevelId level) { return !plan::contains(what.asked, level); });
    Search search(catalogue, what, transition.awaited);
    const AloneLoader& loader = search.loader();
    if (loader.count() == 0) return false;
    Order today(loader.count());
    std::iota(today.begin(), today.end(), 0);
    for (const std::size_t number : today) transition.asked.push_back(loader.level(number));
    transition.pieces = loader.detail_of(today);
    transition.takes = search.time_of(today);
    const Order best = search.best();
    for (const std::size_t number : best) transition.best.push_back(loader.level(number));
    transition.best_pieces = loader.detail_of(best);
    transition.best_takes = search.takes();
    transition.bound = search.least();
    transition.exact = search.exact();
    return true;
}

} // namespace

std::vector<TransitionOrder> order_transitions(const plan::Plan& plan, plan::DeviceId device) {
    const study::Study study(plan, {});
    const loading::Catalogue& catalogue = study.catalogues[device.value];
    std::vector<TransitionOrder> transitions;
    for (const plan::ListId id : plan.lists.ids()) {
        const plan::StepList& list = plan.lists[id];
        study::Asking asking = study::asking_of(plan, list);
        TransitionOrder transition;
        transition.list = id;
        transition.device = device;
        transition.awaited = std::move(asking.awaited);
        if (find_order(catalogue, {study.there_with(list), asking.asked}, transition))
            transitions.push_back(std::move(transition));
    }
    for (const LevelId level : plan.levels.ids()) {
        if (!plan.levels[level].near) continue;
        TransitionOrder transition;
        transition.near = level;
        transition.device = device;
        transition.awaited = {level};
        if (find_order(catalogue, {study.always, {level}}, transition))
            transitions.push_back(std::move(transition));
    }
    return transitions;
}

} // namespace hestrel::order
