#pragma once
// The server of the Language Server Protocol 3.17: what an editor asks about plans while they are
// written. It answers one message after another; it neither reads nor writes bytes itself.

#include "serve/actions.hpp"
#include "serve/mentions.hpp"
#include "serve/workspace.hpp"
#include "source/json.hpp"

#include <functional>
#include <set>
#include <string>

namespace hestrel::serve {

class Server {
public:
    /// Takes the text of a message.
    using Send = std::function<void(const std::string& message)>;
    /// `disk` outlives it. `version` is that of the program.
    Server(source::Disk& disk, std::string version, Send send);

    /// Takes in one message, by its text. What it asks is answered before this returns; what is
    /// wrong with it is the answer. Findings wait until `say_findings`.
    void take(const std::string& text);
    /// Whether plans have changed since findings were told.
    [[nodiscard]] bool has_news() const { return news_; }
    /// Reads the plans of which a file is open and has changed, as every answer would do first.
    void read_plans();
    /// Tells the findings of every plan of which a file is open. To be called when no message
    /// waits.
    void say_findings();

    /// The editor said `exit`.
    [[nodiscard]] bool has_ended() const { return ended_; }
    /// What the process ends with: 0 where `shutdown` came before `exit`.
    [[nodiscard]] int exit_code() const { return shut_down_ ? 0 : 1; }

private:
    using Json = source::Json;

    /// A file and a byte in it that a request is about.
    struct Asked {
        std::string path;
        const Document* document = nullptr;
        std::size_t offset = 0;
        PlanState* plan = nullptr; ///< null where it belongs to none
    };

    void send(const Json& message);
    /// The text of an answer: of some, which are long, no JSON is made first.
    [[nodiscard]] std::string answer(const std::string& method, const Json& params);
    [[nodiscard]] Json json_answer(const std::string& method, const Json& params);
    void note(const std::string& method, const Json& params);
    Json initialize(const Json& params);
    void watch_files();
    void change(const Json& params);

    /// The same, and the name that stands there.
    struct Named {
        Asked at;
        const PlanRead* read = nullptr; ///< null where no name is known
        std::optional<Mention> mention;
    };

    Asked asked(const Json& params);
    Named named(const Json& params);
    Json hover(const Json& params);
    Json completion(const Json& params);
    Json definition(const Json& params);
    Json references(const Json& params);
    std::string symbols(const Json& params);
    Json prepare_rename(const Json& params);
    Json rename(const Json& params);
    Json actions(const Json& params);
    Json action_json(const Action& action);
    std::optional<Action> worked_out(Remedy remedy, PlanState& state, const PlanRead& read,
                                     const plan::Finding& finding);
    Json resolve(Json action);

    std::set<PlanState*> open_plans();
    void say(PlanState& state, std::map<std::string, Json>& by_file);

    Workspace workspace_;
    std::string version_;
    Send send_;
    bool news_ = false;
    bool started_ = false;
    bool shut_down_ = false;
    bool ended_ = false;
    bool knows_versions_ = false; ///< of documents in changes
    bool watches_files_ = false;  ///< tells of files that change on the disk, when it is asked to
    bool resolves_edits_ = false; ///< asks for what an action changes when it is chosen
};

} // namespace hestrel::serve
