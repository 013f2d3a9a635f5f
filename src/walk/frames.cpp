#include "walk/frames.hpp"

#include "plan/questions.hpp"

#include <algorithm>
#include <set>

namespace hestrel::walk {

using plan::LevelId;
using plan::Micros;

namespace {

/// Goes through the record's events and frames in time.
class Frames {
public:
    Frames(const plan::Plan& plan, const loading::Catalogue& catalogue, Record& record)
        : catalogue_(catalogue), record_(record),
          most_(plan::longest_frame(plan, plan.devices[record.device])) {}

    void run() {
        auto row = record_.frames.begin();
        auto event = record_.events.begin();
        while (row != record_.frames.end() || event != record_.events.end()) {
            Micros at = Micros::never();
            if (row != record_.frames.end()) at = row->at;
            if (event != record_.events.end()) at = std::min(at, event->at);
            for (; event != record_.events.end() && event->at == at; ++event) take(*event);
            for (; row != record_.frames.end() && row->at == at; ++row) now_ = *row;
            look(at);
        }
        if (slow_) end(record_.end);
    }

private:
    void take(const Event& event) {
        switch (event.kind) {
        case EventKind::boot_ended: booted_ = true; break;
        case EventKind::launched:
            booted_ = false;
            veils_.clear();
            shown_.clear();
            break;
        case EventKind::veil_up: veils_.insert(event.subject); break;
        case EventKind::veil_down: veils_.erase(event.subject); break;
        case EventKind::level_shown: shown_.insert(LevelId{event.subject}); break;
        case EventKind::level_hidden: shown_.erase(LevelId{event.subject}); break;
        default: break;
        }
    }

    void look(Micros at) {
        const bool counts = booted_ && !now_.blocked && veils_.empty() && at < record_.end;
        if (counts && now_.work > record_.longest_frame) {
            record_.longest_frame = now_.work;
            record_.longest_frame_at = at;
        }
        if (!counts || now_.work <= most_) {
            if (slow_) end(at);
            return;
        }
        if (!slow_) stretch_ = {at, at, {}, {}, {}};
        slow_ = true;
        if (now_.work <= stretch_.work) return;
        stretch_.work = now_.work;
        stretch_.frame = plan::next_multiple(now_.work, catalogue_.frame.period);
        stretch_.levels.clear();
        for (const LevelId level : shown_) {
            const Micros cost = catalogue_.levels[level].frame_cost;
            if (cost.count > 0) stretch_.levels.emplace_back(level, cost);
        }
        std::stable_sort(
            stretch_.levels.begin(), stretch_.levels.end(),
            [](const auto& one, const auto& other) { return one.second > other.second; });
    }
    void end(Micros at) {
        slow_ = false;
        stretch_.to = at;
        if (stretch_.to > stretch_.from) record_.slow_frames.push_back(stretch_);
    }

    const loading::Catalogue& catalogue_;
    Record& record_;
    Micros most_;
    loading::FrameRow now_{};
    bool booted_ = false;
    std::set<std::uint32_t> veils_;
    std::set<LevelId> shown_;
    bool slow_ = false;
    SlowFrames stretch_; ///< that lasts, while `slow_`
};

} // namespace

void add_frames(const plan::Plan& plan, const loading::Catalogue& catalogue, Record& record) {
    Frames(plan, catalogue, record).run();
}

} // namespace hestrel::walk
