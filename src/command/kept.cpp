#include "command/kept.hpp"

#include "source/fingerprint.hpp"
#include "source/ledger_folder.hpp"
#include "source/overflow_file.hpp"

#include <algorithm>
#include <hestrel/version.hpp>
#include <memory>
#include <utility>

namespace hestrel::command {

namespace {

/// The same for two runs exactly where one can go on from what the other has kept.
std::string fingerprint(const Call& call, const std::string& inputs, bool told_apart) {
    std::string text = fmt::format("{}\n{}\n{}\n", HESTREL_VERSION, inputs, told_apart);
    const auto add = [&](std::string_view option, const std::vector<std::string>& values) {
        text += fmt::format("{} {}\n", option, values.size());
        for (const std::string& value : values) text += fmt::format("{} {}\n", value.size(), value);
    };
    add("set", call.common().sets);
    add("device", call.common().devices);
    for (const char* option : {"from", "after", "saved", "fold-near"}) {
        if (call.has(option)) add(option, {call.text(option)});
    }
    if (call.has("quit-anywhere")) add("quit-anywhere", {});
    add("pending", {std::to_string(call.number("pending"))});
    return source::sha256_hex(text);
}

/// That of the first of a team, for all: the others read along, and keep nothing.
class TeamLedger final : public plan::Ledger {
public:
    /// `own` is null for all but the first.
    TeamLedger(plan::Team& team, std::unique_ptr<plan::Ledger> own)
        : team_(team), own_(std::move(own)) {
        const bool has_note = own_ && own_->note();
        std::string note;
        if (has_note) plan::pack(note, own_->note()->data(), own_->note()->size());
        const std::string first = team_.all_of(note).front();
        std::string_view bytes = first;
        if (!bytes.empty()) plan::unpack(bytes, note_.emplace());
    }

    [[nodiscard]] const std::optional<Note>& note() const override { return note_; }
    void read(std::size_t column, std::size_t width,
              const std::function<void(const void* record)>& what) override {
        std::string records;
        const auto share = [&] {
            const std::string first = team_.all_of(records).front();
            // Aligned as numbers are.
            std::vector<std::uint64_t> aligned(first.size() / sizeof(std::uint64_t) + 1);
            std::copy(first.begin(), first.end(), reinterpret_cast<char*>(aligned.data()));
            for (std::size_t at = 0; at < first.size(); at += width)
                what(reinterpret_cast<const char*>(aligned.data()) + at);
            records.clear();
            return !first.empty();
        };
        constexpr std::size_t shared_together = std::size_t{1} << 20;
        if (own_) {
            own_->read(column, width, [&](const void* record) {
                records.append(static_cast<const char*>(record), width);
                if (records.size() >= shared_together) share();
            });
            if (!records.empty()) share();
            share(); // nothing more
        } else {
            while (share()) {
            }
        }
    }
    [[noreturn]] void refuse() const override {
        if (own_) own_->refuse();
        throw source::FileError("what is kept is damaged");
    }
    void append(std::size_t column, const void* records, std::size_t bytes) override {
        if (own_) own_->append(column, records, bytes);
    }
    [[nodiscard]] bool is_due() const override { return own_ && own_->is_due(); }
    void keep(const Note& note) override {
        if (own_) own_->keep(note);
    }

private:
    plan::Team& team_;
    std::unique_ptr<plan::Ledger> own_;
    std::optional<Note> note_;
};

} // namespace

Keeping::Keeping(const Call& call, Output& output)
    : call_(&call), folder_(source::folder_for_overflow()) {
    if (!call.has("resume")) return;
    folder_ = call.text("resume");
    inputs_ = output.inputs().fingerprint();
}

void Keeping::add_to(explore::Options& exploring, const std::string& name) const {
    exploring.overflow = std::make_shared<source::OverflowFile>(folder_);
    if (!call_->has("resume")) return;
    exploring.ledger = [call = call_, disk = std::make_shared<source::RealDisk>(), inputs = inputs_,
                        path = folder_ + "/" +
                               name](bool told_apart) -> std::unique_ptr<plan::Ledger> {
        plan::Team* team = call->team().get();
        std::unique_ptr<plan::Ledger> own;
        if (plan::rank_of(team) == 0) {
            source::LedgerFolder::Settings settings;
            settings.folder = path + (told_apart ? "-apart" : "");
            settings.columns = {"situations", "ways", "levels", "news"};
            settings.of = fingerprint(*call, inputs, told_apart);
            settings.written_by = "hestrel " HESTREL_VERSION;
            own = std::make_unique<source::LedgerFolder>(*disk, std::move(settings));
        }
        if (team == nullptr) return own;
        return std::make_unique<TeamLedger>(*team, std::move(own));
    };
}

} // namespace hestrel::command
