#include "walk/timeline.hpp"

#include <algorithm>

namespace hestrel::walk {

namespace {

/// One piece while the events go by.
struct Now {
    LevelCondition condition = LevelCondition::absent;
    plan::Micros since;
    bool resident = false;
    bool unloaded = false; ///< a level that was, perhaps while its own piece was being unpacked
};

bool is_about_a_piece(EventKind kind) {
    return kind >= EventKind::piece_queued && kind <= EventKind::level_unloaded;
}

/// What a piece becomes by an event.
LevelCondition after(EventKind kind, bool is_level, const Now& now) {
    switch (kind) {
    case EventKind::piece_queued: return LevelCondition::queued;
    case EventKind::piece_reading: return LevelCondition::reading;
    case EventKind::piece_unpacking: return LevelCondition::unpacking;
    case EventKind::piece_making: return LevelCondition::making;
    case EventKind::piece_resident:
        if (now.unloaded) return LevelCondition::leaving;
        return is_level ? LevelCondition::queued : LevelCondition::ready;
    case EventKind::level_ready:
    case EventKind::level_hidden: return LevelCondition::ready;
    case EventKind::level_attaching: return LevelCondition::attaching;
    case EventKind::level_shown: return LevelCondition::shown;
    case EventKind::level_unloaded:
        return now.resident ? LevelCondition::leaving : LevelCondition::absent;
    default: return LevelCondition::absent; // given up, or released
    }
}

} // namespace

Timeline timeline_of(const plan::Plan& plan, const Record& record) {
    Timeline timeline(plan.levels.size() + plan.kits.size());
    plan::Table<loading::PieceId, Now> pieces(timeline.size());
    const auto close = [&](loading::PieceId piece, plan::Micros at) {
        const Now& now = pieces[piece];
        if (now.condition != LevelCondition::absent && at > now.since)
            timeline[piece].push_back({now.condition, now.since, at});
    };
    for (const Event& event : record.events) {
        if (!is_about_a_piece(event.kind)) continue;
        const loading::PieceId piece{event.subject};
        Now& now = pieces[piece];
        const bool is_level = piece.value < plan.levels.size();
        if (event.kind == EventKind::piece_queued || event.kind == EventKind::level_ready)
            now.unloaded = false;
        if (event.kind == EventKind::level_unloaded) now.unloaded = true;
        const LevelCondition next = after(event.kind, is_level, now);
        if (event.kind == EventKind::piece_resident) now.resident = true;
        if (event.kind == EventKind::piece_released) now.resident = false;
        if (next == now.condition) continue;
        close(piece, event.at);
        now.condition = next;
        now.since = event.at;
    }
    for (const loading::PieceId piece : pieces.ids()) close(piece, record.end);
    return timeline;
}

} // namespace hestrel::walk
