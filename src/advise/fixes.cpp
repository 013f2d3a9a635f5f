// What would bring one load in time: every kind of change is tried by walking, and its least amount
// looked for.

#include "advise/advice.hpp"
#include "advise/shapes.hpp"
#include "loading/catalogue.hpp"
#include "plan/lists.hpp"
#include "plan/names.hpp"
#include "plan/questions.hpp"
#include "study/list_reading.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace hestrel::advise {

using plan::ListId;
using plan::Micros;
using plan::Plan;

namespace {

constexpr double centimetre = 0.01;

/// Tries every kind of change for one problem.
class Mender {
public:
    Mender(const Judge& judge, const Load& load, Micros wanted, Problem& problem)
        : judge_(judge), plan_(judge.study().plan), load_(load), wanted_(wanted), problem_(problem),
          worst_(load.on(problem.worst)) {}

    void run() {
        if (load_.cause.list) {
            for (const ListId list : lists_of_cause()) {
                names_order(list);
                priority(list);
                fixed_wait(list);
            }
            deepen();
            veil();
        } else {
            near();
        }
        gate();
        persist();
        lighter();
        quicker();
        makers();
        for (Advice& advice : problem_.fixes) advice.harms = judge_.harms(advice.edits);
        std::stable_sort(problem_.fixes.begin(), problem_.fixes.end(),
                         [](const Advice& one, const Advice& other) {
                             return std::pair{!one.harms.empty(), one.kind} <
                                    std::pair{!other.harms.empty(), other.kind};
                         });
    }

private:
    using Edits = std::vector<Edit>;

    /// The whole list and its branches that load the level.
    [[nodiscard]] std::vector<ListId> lists_of_cause() const {
        std::vector<ListId> lists;
        for (const ListId list : plan_.lists.ids()) {
            if (plan::top_list(plan_, list) == load_.cause.list) lists.push_back(list);
        }
        return lists;
    }

    [[nodiscard]] Judgement on_all_late(const Edits& edits) const {
        Judgement worst;
        for (const plan::DeviceId device : problem_.late)
            worst.take(judge_.judge(load_, device, edits));
        return worst;
    }

    Advice& add(Kind kind, Edits edits, const Judgement& then, ListId list = {}) {
        Advice advice;
        advice.kind = kind;
        advice.edits = std::move(edits);
        advice.level = load_.level;
        advice.list = list;
        advice.then = then;
        return problem_.fixes.emplace_back(std::move(advice));
    }
    void try_once(Kind kind, const Edits& edits, ListId list = {}) {
        const Judgement then = on_all_late(edits);
        if (then.in_time(wanted_)) add(kind, edits, then, list);
    }
    /// The least amount of something, if any; `make(n)` are the changes of n units.
    template <class Make>
    std::optional<std::int64_t> least(std::int64_t guess, std::int64_t most, Make make) const {
        return least_amount(guess, most,
                            [&](std::int64_t n) { return on_all_late(make(n)).in_time(wanted_); });
    }
    /// So many units, and what one less would do.
    template <class Make>
    void add_amount(Kind kind, std::int64_t amount, Make make, ListId list = {}) {
        const Edits edits = make(amount);
        Advice& advice = add(kind, edits, on_all_late(edits), list);
        advice.amount = amount;
        advice.one_less = on_all_late(amount > 1 ? make(amount - 1) : Edits{});
    }
    template <class Make>
    void try_amounts(Kind kind, std::int64_t guess, std::int64_t most, Make make,
                     ListId list = {}) {
        if (const auto amount = least(guess, most, make)) add_amount(kind, *amount, make, list);
    }

    // Inside the list.

    void names_order(ListId list) {
        for (std::size_t i = 0; i < plan_.lists[list].steps.size(); ++i) {
            std::vector<plan::LevelId> names = named_in(list, i);
            const auto here = std::find(names.begin(), names.end(), load_.level);
            if (here == names.end() || here == names.begin()) continue;
            std::rotate(names.begin(), here, here + 1);
            try_once(Kind::names_order, {SetNames{list, i, names}}, list);
        }
    }
    void priority(ListId list) {
        Edits edits;
        for (std::size_t i = 0; i < plan_.lists[list].steps.size(); ++i) {
            const std::vector<plan::LevelId> names = named_in(list, i);
            if (!plan::contains(names, load_.level)) continue;
            const auto& what = plan_.lists[list].steps[i].what;
            const auto* load = std::get_if<plan::LoadStep>(&what);
            const plan::Priority now =
                load != nullptr ? load->priority : std::get<plan::ShowStep>(what).priority;
            if (now != plan::Priority::now) edits.emplace_back(SetPriority{list, i});
        }
        if (!edits.empty()) try_once(Kind::priority, edits, list);
    }
    [[nodiscard]] std::vector<plan::LevelId> named_in(ListId list, std::size_t step) const {
        const auto& what = plan_.lists[list].steps[step].what;
        if (const auto* load = std::get_if<plan::LoadStep>(&what)) return load->levels;
        if (const auto* show = std::get_if<plan::ShowStep>(&what)) return show->levels;
        return {};
    }
    void fixed_wait(ListId list) {
        for (const study::FixedWait& wait : study::fixed_waits(plan_, plan_.lists[list])) {
            const auto& own = std::get<plan::WaitStep>(wait.step->what);
            if (own.time != wait.time || !plan::contains(wait.levels, load_.level)) continue;
            const auto make = [&](std::int64_t n) {
                return Edits{SetWait{list, wait.index, {n * tenth}}};
            };
            try_amounts(Kind::wait, tenths(*own.time + problem_.short_by), most_tenths(*own.time),
                        make, list);
        }
    }
    [[nodiscard]] std::int64_t most_tenths(Micros today) const {
        constexpr std::int64_t day = 864'000;
        return std::min(4 * tenths(today + worst_.longest() + problem_.short_by) + 20, day);
    }

    // Where it fires.

    [[nodiscard]] std::int64_t short_metres() const {
        return static_cast<std::int64_t>(
            std::ceil(plan::in_seconds(problem_.short_by) * load_.top));
    }
    /// What needs more is not fixed by metres.
    [[nodiscard]] std::int64_t most_metres() const {
        constexpr std::int64_t far = 100'000;
        return std::min(4 * short_metres() + 20, far);
    }
    void deepen() {
        const plan::TriggerId id = trigger_of(plan_, load_.cause);
        if (!id || !load_.way) return;
        const plan::Trigger& trigger = plan_.triggers[id];
        if (trigger.fires == plan::Fires::on_exit) return;
        const std::int64_t guess = short_metres();
        const std::int64_t most = most_metres();
        if (const auto* sphere = std::get_if<plan::Sphere>(&trigger.shape)) {
            try_amounts(
                Kind::deepen, guess, most,
                [&](std::int64_t n) {
                    plan::Sphere wider = *sphere;
                    wider.radius += static_cast<double>(n);
                    return Edits{SetShape{id, wider}};
                },
                load_.cause.list);
        } else if (const auto* beyond = std::get_if<plan::Beyond>(&trigger.shape)) {
            try_amounts(
                Kind::deepen, guess, most,
                [&](std::int64_t n) {
                    plan::Beyond wider = *beyond;
                    wider.limit += static_cast<double>(beyond->over ? -n : n);
                    return Edits{SetShape{id, wider}};
                },
                load_.cause.list);
        } else if (const auto* box = std::get_if<plan::Box>(&trigger.shape)) {
            deepen_box(id, *box, guess, most);
        }
    }
    /// The side on which the least is needed; all four where one is not enough.
    void deepen_box(plan::TriggerId id, const plan::Box& box, std::int64_t guess,
                    std::int64_t most) {
        struct Side {
            std::size_t axis;
            bool upward;
        };
        constexpr std::array sides{Side{0, false}, Side{0, true}, Side{2, false}, Side{2, true}};
        const auto one = [&](const Side& side, std::int64_t n) {
            return Edits{SetShape{id, deeper(box, side.axis, side.upward, static_cast<double>(n))}};
        };
        std::optional<Side> best;
        std::int64_t amount = most;
        for (const Side& side : sides) {
            const auto found = least(guess, amount, [&](std::int64_t n) { return one(side, n); });
            if (!found || (best && *found >= amount)) continue;
            best = side;
            amount = *found;
        }
        if (best) {
            add_amount(
                Kind::deepen, amount, [&](std::int64_t n) { return one(*best, n); },
                load_.cause.list);
            return;
        }
        try_amounts(
            Kind::deepen, guess, most,
            [&](std::int64_t n) {
                plan::Box wider = box;
                for (const Side& side : sides)
                    wider = deeper(wider, side.axis, side.upward, static_cast<double>(n));
                return Edits{SetShape{id, wider}};
            },
            load_.cause.list);
    }
    void near() {
        const plan::Near& today = *plan_.levels[load_.cause.near].near;
        try_amounts(Kind::near, short_metres(), most_metres(), [&](std::int64_t n) {
            const auto metres = static_cast<double>(n);
            plan::Near nearer = today;
            nearer.load += metres;
            nearer.unload += metres;
            return Edits{SetNear{load_.cause.near, nearer}};
        });
    }

    // What hides it, or holds players.

    void veil() {
        const ListId list = load_.cause.list;
        for (const plan::Step& step : plan_.lists[list].steps) {
            const auto* raised = std::get_if<plan::VeilStep>(&step.what);
            if (raised == nullptr) continue;
            const Micros today = plan_.veils[raised->veil].min;
            const plan::VeilId veil = raised->veil;
            try_amounts(
                Kind::veil_min, tenths(worst_.longest() + wanted_), most_tenths(today),
                [&](std::int64_t n) {
                    return Edits{SetVeilMin{veil, {n * tenth}}};
                },
                list);
            return;
        }
        const std::string name = free_name(owner_name() + "-veil", plan_.veils);
        try_amounts(
            Kind::veil, tenths(worst_.longest() + wanted_), most_tenths({}),
            [&](std::int64_t n) {
                return Edits{AddVeil{list, name, {n * tenth}}};
            },
            list);
    }
    void gate() {
        if (!load_.way) return;
        const study::OnLeg& need = load_.way->to;
        const study::OnLeg& fires = load_.way->from;
        if (plan_.paths[need.leg.path].gate) return;
        const double from = load_.way->legs.size() == 1 ? fires.metres : 0;
        const double room = need.metres - from;
        if (room < 2 * centimetre) return;
        const double before = std::min(1.0, room / 2);
        const OnPath point = point_on(plan_, need.leg, need.metres - before);
        const std::string& level = plan_.levels[load_.level].name;
        AddGate gate;
        const plan::LevelId home = plan_.paths[need.leg.path].home;
        gate.gate = free_name(plan::full_name(plan_, home, level + "-gate"), plan_.gates);
        gate.waypoint = free_name(plan::full_name(plan_, home, "before-" + level), plan_.waypoints);
        gate.needs = load_.level;
        gate.path = need.leg.path;
        gate.at = point.at;
        gate.corner = point.corner;
        gate.forward = need.leg.forward;
        const Judgement then = on_all_late({gate});
        // Where nobody went through it, it is no way out.
        if (then.in_time(wanted_) && then.held > Micros{}) add(Kind::gate, {gate}, then);
    }

    // What there is to load.

    void persist() {
        if (plan_.levels[load_.level].persist) return;
        const Edits edits{SetPersist{load_.level, true}};
        const Judgement then = on_all_late(edits);
        if (!then.in_time(wanted_)) return;
        add(Kind::persist, edits, then).amount = whole_mebibytes(problem_.worst);
    }
    void lighter() {
        // How large it is does not matter where it is not read.
        for (const plan::DeviceId device : problem_.late) {
            if (!content_on(device).read) return;
        }
        Edits edits;
        Edits less;
        std::int64_t most_needed = 0;
        for (const plan::DeviceId device : problem_.late) {
            const auto in_time = [&](std::int64_t n) {
                return judge_.judge(load_, device, {smaller(device, n)}).in_time(wanted_);
            };
            const auto found = least_amount(guess_of(device), whole_mebibytes(device), in_time);
            if (!found) return;
            edits.emplace_back(smaller(device, *found));
            less.emplace_back(smaller(device, *found - 1));
            most_needed = std::max(most_needed, *found);
        }
        Advice& advice = add(Kind::lighter, edits, on_all_late(edits));
        advice.amount = most_needed;
        advice.one_less = on_all_late(less);
    }
    /// A maker needs so many tenths of a second less for it.
    void quicker() {
        Micros most;
        for (const plan::DeviceId device : problem_.late)
            most = std::max(most, content_on(device).make.value_or(Micros{}));
        if (most == Micros{}) return;
        const auto make = [&](std::int64_t n) {
            Edits edits;
            for (const plan::DeviceId device : problem_.late) {
                if (content_on(device).make) edits.emplace_back(made_in_less(device, n));
            }
            return edits;
        };
        try_amounts(Kind::quicker, tenths(problem_.short_by), most.count / tenth, make);
    }
    [[nodiscard]] SetFigures made_in_less(plan::DeviceId device, std::int64_t n) const {
        const Micros today = *content_on(device).make;
        const plan::SpeedFactor speed = plan_.devices[device].makers.speed;
        const Micros then = std::max(Micros{}, today - Micros{n * tenth});
        SetFigures figures;
        figures.level = load_.level;
        figures.device = device;
        // In whole milliseconds of a maker of speed 1, rounded down.
        figures.make = plan::milliseconds(
            static_cast<std::int64_t>(plan::Int128{then.count} * speed.millionths / 1'000'000'000));
        return figures;
    }
    /// More makers, where what is late waits for one.
    void makers() {
        const auto& catalogues = judge_.study().catalogues;
        const auto is_made = [&](plan::DeviceId device) {
            const loading::Catalogue& catalogue = catalogues[device.value];
            bool made = false;
            catalogue.for_pieces(load_.level, [&](loading::PieceId piece) {
                made = made || catalogue.pieces[piece].make.has_value();
            });
            return made;
        };
        if (std::none_of(problem_.late.begin(), problem_.late.end(), is_made)) return;
        constexpr std::int64_t most_more = 4;
        const auto make = [&](std::int64_t n) {
            Edits edits;
            for (const plan::DeviceId device : problem_.late)
                edits.emplace_back(SetMakers{device, plan_.devices[device].makers.workers +
                                                         static_cast<std::uint32_t>(n)});
            return edits;
        };
        try_amounts(Kind::makers, 1, most_more, make);
    }
    [[nodiscard]] const loading::Piece& content_on(plan::DeviceId device) const {
        const loading::Catalogue& catalogue = judge_.study().catalogues[device.value];
        return catalogue.pieces[catalogue.piece_of(load_.level)];
    }
    [[nodiscard]] std::int64_t whole_mebibytes(plan::DeviceId device) const {
        return content_on(device).unpacked.count >> 20;
    }
    /// As much less as would be read and unpacked in the time that is missing.
    [[nodiscard]] std::int64_t guess_of(plan::DeviceId device) const {
        const loading::Catalogue& catalogue = judge_.study().catalogues[device.value];
        const loading::Piece& piece = content_on(device);
        if (piece.unpacked.count == 0) return 1;
        const double packed_share =
            static_cast<double>(piece.packed.count) / static_cast<double>(piece.unpacked.count);
        double seconds_each =
            packed_share * 1048576.0 / static_cast<double>(catalogue.read.rate.per_second);
        if (catalogue.unpack)
            seconds_each += 1048576.0 / static_cast<double>(catalogue.unpack->rate.per_second);
        const DeviceTime& time = load_.on(device);
        const auto& slack = time.seen_slack && (!time.slack || *time.seen_slack < *time.slack)
                                ? time.seen_slack
                                : time.slack;
        const Micros missing = slack ? wanted_ - *slack : problem_.short_by;
        return static_cast<std::int64_t>(std::ceil(plan::in_seconds(missing) / seconds_each));
    }
    /// So many MiB less, of its largest pools; what is read shrinks in proportion.
    [[nodiscard]] SetFigures smaller(plan::DeviceId device, std::int64_t mebibytes) const {
        const loading::Piece& piece = content_on(device);
        SetFigures size;
        size.level = load_.level;
        size.device = device;
        std::vector<plan::Bytes> memory = piece.memory;
        plan::Bytes less = plan::mebibytes(mebibytes);
        while (less.count > 0) {
            const auto largest = std::max_element(memory.begin(), memory.end());
            const plan::Bytes taken = std::min(less, *largest);
            if (taken.count == 0) break;
            *largest -= taken;
            less -= taken;
        }
        for (std::size_t pool = 0; pool < memory.size(); ++pool) {
            if (piece.memory[pool].count > 0)
                size.memory.emplace_back(plan::PoolId{pool}, memory[pool]);
        }
        if (piece.packed != piece.unpacked && piece.unpacked.count > 0) {
            const double share = 1 - static_cast<double>(plan::mebibytes(mebibytes).count) /
                                         static_cast<double>(piece.unpacked.count);
            // As it can be written: in hundredths of a MiB, rounded down.
            const double hundredths =
                std::floor(plan::in_mebibytes(piece.packed) * share * 100 + 1e-6);
            size.packed = plan::Bytes{std::llround(hundredths / 100 * 1048576.0)};
        }
        return size;
    }

    [[nodiscard]] std::string owner_name() const {
        const plan::TriggerId trigger = trigger_of(plan_, load_.cause);
        return trigger ? std::string(plan::plain_name(plan_.triggers[trigger].name))
                       : plan_.items[item_of(plan_, load_.cause)].name;
    }
    template <class Table>
    static std::string free_name(const std::string& wanted, const Table& taken) {
        std::string name = wanted;
        for (int i = 2;; ++i) {
            const bool free = std::none_of(taken.begin(), taken.end(),
                                           [&](const auto& each) { return each.name == name; });
            if (free) return name;
            name = wanted + "-" + std::to_string(i);
        }
    }

    const Judge& judge_;
    const Plan& plan_;
    const Load& load_;
    Micros wanted_;
    Problem& problem_;
    const DeviceTime& worst_;
};

} // namespace

std::int64_t tenths(Micros time) {
    return (time.count + tenth - 1) / tenth;
}

void find_fixes(const Judge& judge, const Load& load, Micros wanted, Problem& problem) {
    Mender(judge, load, wanted, problem).run();
}

} // namespace hestrel::advise
