#include "command/toward.hpp"

#include "command/commands.hpp"
#include "command/kept.hpp"
#include "command/options.hpp"
#include "command/progress.hpp"
#include "command/terminal.hpp"
#include "command/witnesses.hpp"
#include "explore/explored.hpp"
#include "plan/jobs.hpp"
#include "tables/covered.hpp"
#include "tables/toward_tables.hpp"

#include <fmt/format.h>
#include <memory>

namespace hestrel::command {

int run_toward(const Call& call, const plan::Plan& plan,
               const std::vector<plan::EditionId>& editions, const explore::Options& exploring,
               Output& output) {
    std::vector<std::unique_ptr<explore::Explorer>> all(editions.size());
    const Keeping kept(call, output);
    Progress progress(output);
    progress.begin_open("situations looked at");
    plan::in_parallel(editions.size(), exploring.jobs, [&](std::size_t i) {
        explore::Options of_edition = exploring;
        of_edition.edition = editions[i];
        kept.add_to(of_edition, explore::edition_name(plan, editions[i]));
        watch(progress, i, of_edition);
        all[i] = explore::explore_all(plan, std::move(of_edition));
    });
    progress.end();
    if (!tells(call)) return exit_code::fine;

    Witnesses witnesses(call.text("witness"), call.common().plan_path, output);
    std::string text;
    std::string json;
    std::vector<const explore::Explorer*> explorers;
    bool answered = true;
    for (const auto& explorer : all) {
        const std::string name = explore::edition_name(*explorer);
        explorers.push_back(explorer.get());
        const std::string of_edition = tables::toward_json(*explorer);
        json += of_edition;
        output.write(name + "/toward.json", of_edition);
        const std::string condition = plan.conditions[exploring.toward].text;
        text += "edition " + name + ": " + tables::toward_text(*explorer);
        if (explorer->found()) {
            const std::string file = witnesses.write(
                *explorer, explorer->trace_to(*explorer->found()), "toward", condition);
            if (!file.empty()) text += "    " + file + "\n";
        } else if (!explorer->complete()) {
            answered = false;
            const std::vector<tables::Covered> covered = tables::covered(*explorer);
            output.write(name + "/covered.csv", tables::covered_csv(plan, covered));
            text += tables::covered_text(plan, covered);
        }
    }
    output.print(json, tables::toward_csv(explorers), [&] { return text; });
    output.say_files();
    return answered ? exit_code::fine : exit_code::problems_found;
}

} // namespace hestrel::command
