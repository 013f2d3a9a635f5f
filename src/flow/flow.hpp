#pragma once
// What steps mean (docs/model.md section 6): one interpreter of lists of steps, used by every
// engine. It keeps the state of the game that steps change (running lists, the switch under way,
// veils, freezes, open menus) and asks a Stage for everything else.
//
// Order inside an instant (section 3): after each event call `absorb()` and `go_on()`; the caller
// then judges triggers and routes, and repeats until nothing changes.

#include "flow/level_waits.hpp"
#include "flow/stage.hpp"
#include "plan/level_tree.hpp"

#include <map>
#include <optional>
#include <set>
#include <vector>

namespace hestrel::flow {

/// The game as far as steps are concerned.
class Flow {
public:
    Flow(const plan::Plan& plan, Stage& stage);

    /// Starts the boot (section 7): asks for the start level and all persisting ones and wants them
    /// shown; players are frozen until they all are.
    void boot(plan::LevelId start);
    [[nodiscard]] bool booted() const { return booted_; }

    /// Starts a list, which runs until its first wait.
    void start(plan::ListId list);
    /// Presses an item of an open menu: closes the menu and starts the item's list.
    void press(plan::ItemId item);

    /// Takes note of what changed about levels since the last call.
    void absorb();
    /// Lets lists whose wait has ended go on, oldest first. True where any did.
    bool go_on();
    /// An alarm of `Stage::wake_after` went off.
    void wake(RunId run, std::uint32_t alarm);
    /// Whether that alarm still matters to anybody.
    [[nodiscard]] bool awaits(RunId run, std::uint32_t alarm) const;

    [[nodiscard]] bool menu_open(plan::MenuId menu) const { return open_menus_.contains(menu); }
    /// Triggers of `level` can fire: it is shown, and no switch or boot holds it back.
    [[nodiscard]] bool live(plan::LevelId level) const;
    /// Whether a run of `list` has not ended yet.
    [[nodiscard]] bool running(plan::ListId list) const { return running_count_[list] > 0; }
    [[nodiscard]] bool frozen() const { return freezes_ > 0; }
    [[nodiscard]] bool veiled() const { return veils_up_ > 0; }
    /// No list is running, and neither boot nor switch is under way.
    [[nodiscard]] bool idle() const { return runs_.empty() && !switch_ && booted_; }

    /// A run that waits, for whoever explains why nothing goes on.
    struct Waiting {
        RunId run;
        plan::ListId list; ///< unset: the boot, or the switch of an abandoned list
        std::size_t step = 0;
        plan::Micros since;
        plan::Awaited awaited = plan::Awaited::shown;
        std::vector<plan::LevelId> missing; ///< levels it still waits for
    };
    [[nodiscard]] std::vector<Waiting> waiting() const;

private:
    struct Run {
        plan::ListId list;
        std::size_t next = 0; ///< the step to carry out next
        plan::Micros waits_since;
        std::uint32_t alarm = 0; ///< only the newest alarm counts; 0: none is set
        bool gives_up = false;   ///< the alarm ends a wait for levels
    };
    enum class SwitchStage : std::uint8_t { loading, showing, lifting };
    struct SwitchNow {
        RunId run;
        const plan::SwitchStep* step = nullptr;
        std::vector<plan::LevelId> family; ///< in the order asked for
        bool target_was_loaded = false;
        SwitchStage stage = SwitchStage::loading;
        plan::Micros since;
        std::uint32_t alarm = 0;
    };
    struct VeilNow {
        bool up = false;
        plan::Micros raised;
    };
    /// What a step leaves a list doing.
    enum class After : std::uint8_t { goes_on, waits };

    void proceed(RunId run);
    After carry_out(RunId run, const plan::Step& step);
    After carry_out(RunId run, const plan::LoadStep& step);
    After carry_out(RunId run, const plan::ShowStep& step);
    After carry_out(RunId run, const plan::HideStep& step);
    After carry_out(RunId run, const plan::UnloadStep& step);
    After carry_out(RunId run, const plan::KeepOnlyStep& step);
    After carry_out(RunId run, const plan::WaitStep& step);
    After carry_out(RunId run, const plan::VeilStep& step);
    After carry_out(RunId run, const plan::UnveilStep& step);
    After carry_out(RunId run, const plan::SwitchStep& step);
    void end_run(RunId run);
    void abandon_lists_of(plan::LevelId level);
    void set_alarm(RunId run, plan::Micros delay, bool gives_up);

    /// Levels of `levels` that nobody holds back; notes those that a switch refuses to let go.
    std::vector<plan::LevelId> not_refused(RunId run, const std::vector<plan::LevelId>& levels);
    void leave_old_levels();
    void ask_for_family();
    void advance_switch();
    void show_family();
    void arrive();
    void end_switch();
    void end_boot();

    void raise_veil(plan::VeilId veil);
    /// How long the veil has to stay up still; 0: it may be taken down.
    [[nodiscard]] plan::Micros veil_left(plan::VeilId veil) const;
    void take_veil(plan::VeilId veil);
    void freeze();
    void thaw();
    void open_menus_of(plan::LevelId level);
    void close_menus_of(plan::LevelId level);
    void close(plan::MenuId menu);

    const plan::Plan* plan_;
    Stage* stage_;
    plan::LevelTree tree_;
    plan::Table<plan::LevelId, std::vector<plan::MenuId>> menus_of_;
    std::vector<plan::LevelId>
        kept_; ///< persisting levels, their ancestors and with-parent sublevels

    std::map<RunId, Run> runs_;
    std::uint32_t last_run_ = 0;
    std::uint32_t last_alarm_ = 0;
    std::set<RunId> woken_;
    LevelWaits waits_;
    plan::Table<plan::ListId, std::uint32_t> running_count_;
    plan::Table<plan::LevelId, std::set<RunId>> runs_of_; ///< running lists that belong to a level
    std::optional<SwitchNow> switch_;
    plan::Table<plan::LevelId, bool> held_; ///< shown by a switch that has not arrived yet
    plan::Table<plan::VeilId, VeilNow> veils_;
    std::uint32_t veils_up_ = 0;
    std::uint32_t freezes_ = 0;
    std::set<plan::MenuId> open_menus_;
    bool booted_ = false;
    plan::Micros boot_since_;
};

} // namespace hestrel::flow
