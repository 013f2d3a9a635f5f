#include "report/advice_section.hpp"

#include "report/html_table.hpp"
#include "source/xml.hpp"
#include "tables/advice_words.hpp"
#include "tables/words.hpp"

#include <fmt/format.h>

namespace hestrel::report {

using advise::Advised;
using source::xml_text;
using tables::short_time;

namespace {

/// A number, and what there is to say of one piece of advice.
HtmlTable advice_table(const std::string& about_sum) {
    return HtmlTable({{"no.", true}, {"change"}, {about_sum}, {"what gets worse"}, {"to try it"}});
}

class Section {
public:
    Section(const plan::Plan& plan, const Advice& advice)
        : plan_(plan), advised_(advice.advised), settings_(advice.settings) {}

    std::string html() {
        std::string text;
        for (const advise::Problem& problem : advised_.problems) text += of(problem);
        if (advised_.more_problems > 0)
            text += fmt::format("<p>{} more come too late; these are the worst.</p>\n",
                                tables::counted(advised_.more_problems, "load"));
        // Numbers are given in this order.
        text += waits();
        text += whole();
        return text + veils() + keepers();
    }

private:
    std::string of(const advise::Problem& problem) {
        const advise::Load& load = advised_.loads[problem.load];
        const std::string& level = plan_.levels[load.level].name;
        const advise::DeviceTime& time = load.on(problem.worst);
        std::string text =
            fmt::format("<h3>{}</h3>\n<p>Alone it takes {}: {}.",
                        xml_text(tables::late_text(plan_, load, problem)),
                        short_time(time.isolated.shown), tables::alone_text(plan_, load, time));
        if (const advise::ContendedTime* contended = time.longer_contended())
            text += fmt::format(" On {} it takes {}, with what else loads then.",
                                xml_text(plan_.routes[contended->route].name),
                                short_time(contended->took));
        if (load.way)
            text += fmt::format(" Players need {} for {:.1f} m at {:g} m/s.",
                                short_time(*load.lead()), load.way->metres, load.top);
        text += "</p>\n";
        if (problem.fixes.empty())
            return text + (problem.walked ? "<p>Nothing was found that mends it.</p>\n"
                                          : "<p>That is reckoned: on a walk straight to it, it was "
                                            "not loaded by this.</p>\n");
        HtmlTable table = advice_table("the sum, and what walking showed");
        for (const advise::Advice& each : problem.fixes)
            add(table, each, tables::tried_text(plan_, load, problem, each, advised_.wanted));
        return text + table.html("What would bring " + level + " in time");
    }

    std::string waits() {
        HtmlTable table = advice_table("how long the load takes");
        bool any = false;
        for (const advise::WaitTime& wait : advised_.waits) {
            if (!wait.fix) continue;
            any = true;
            add(table, *wait.fix,
                fmt::format("{} on {}", short_time(wait.takes), plan_.devices[wait.slowest].name));
        }
        return any ? "<h3>Fixed waits</h3>\n" + table.html("Fixed waits that do not fit") : "";
    }

    std::string whole() {
        if (advised_.whole.empty()) return "";
        HtmlTable table = advice_table("what it does, all routes together");
        for (const advise::Advice& each : advised_.whole)
            add(table, each, tables::effects_text(plan_, each));
        return "<h3>The plan as a whole</h3>\n" +
               table.html("What is better kept, let go or unloaded sooner");
    }

    void add(HtmlTable& table, const advise::Advice& advice, const std::string& sum) {
        const auto& settings = settings_[next_++];
        const std::string set = settings ? edit::set_line(*settings) : "";
        const std::string number = std::to_string(next_);
        const std::string what = tables::advice_text(plan_, advice);
        const std::string harms = tables::harms_text(plan_, advice.harms);
        table.row({number, what, sum, {harms, harms, harms.empty() ? "" : "bad"}, set});
    }

    std::string veils() const {
        if (advised_.veils.empty()) return "";
        HtmlTable table({{"veil"},
                         {"device"},
                         {"longest load under it"},
                         {"takes", true},
                         {"min", true},
                         {"least min", true}});
        for (const advise::VeilTime& time : advised_.veils) {
            const std::string& veil = plan_.veils[time.veil].name;
            const std::string& device = plan_.devices[time.device].name;
            const std::string load =
                tables::cause_text(plan_, time.cause) + ": " + plan_.levels[time.level].name;
            const plan::Micros min = plan_.veils[time.veil].min;
            table.row({veil,
                       device,
                       load,
                       time.takes,
                       min,
                       {short_time(time.least), std::to_string(time.least.count),
                        min >= time.least ? "good" : ""}});
        }
        return "<h3>Veils</h3>\n<p class=\"note\">Least min is what hides the longest load under a "
               "veil without lasting longer. A switch keeps its veil up until all is "
               "shown.</p>\n" +
               table.html("How long veils must last");
    }

    std::string keepers() const {
        if (advised_.keepers.empty()) return "";
        HtmlTable table({{"session"},
                         {"on"},
                         {"kept by"},
                         {"players wait", true},
                         {"machines wait", true},
                         {"verdict"}});
        for (const advise::KeeperTrial& trial : advised_.keepers) {
            const plan::Route& route = plan_.routes[trial.cast.route];
            const bool now = trial.keeper.value == 0;
            const std::string on = walk::devices_text(plan_, trial.cast.devices);
            const std::string verdict(plan::name_of(trial.verdict));
            const std::string keeper = route.machines[trial.keeper].name;
            table.row({{route.name, route.name},
                       {on, on},
                       {keeper + (now ? " (now)" : ""), keeper},
                       trial.waiting,
                       trial.others,
                       {verdict, verdict, grade_of(trial.verdict)}});
        }
        return "<h3>Who keeps the game</h3>\n<p class=\"note\">What comes of it where another "
               "machine keeps the game; a way between two others leads over the one that keeps it "
               "now.</p>\n" +
               table.html("Who keeps the game");
    }

    const plan::Plan& plan_;
    const Advised& advised_;
    const tables::AdviceSettings& settings_;
    std::size_t next_ = 0;
};

} // namespace

std::string advice_section(const plan::Plan& plan, const Advice& advice) {
    return Section(plan, advice).html();
}

} // namespace hestrel::report
