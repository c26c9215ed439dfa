// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/handover_html.h"

#include <algorithm>
#include <cmath>
#include <ctime>

#include "core/base/text.h"
#include "core/electrics/engineering.h"
#include "core/entry/amount.h"
#include "core/proof/proof.h"
#include "report/trace_picture.h"

namespace eh {
namespace {

std::string escaped(const std::string& text) {
    std::string result;
    for (const char c : text) {
        switch (c) {
            case '&':
                result += "&amp;";
                break;
            case '<':
                result += "&lt;";
                break;
            case '>':
                result += "&gt;";
                break;
            case '"':
                result += "&quot;";
                break;
            case '\n':
                result += "<br/>";
                break;
            default:
                result += c;
        }
    }
    return result;
}

// The day where the shop is.
std::string date_of(std::int64_t ms) {
    if (ms == 0)
        return "";
    const auto seconds = static_cast<std::time_t>(ms / 1000);
    std::tm parts{};
    localtime_r(&seconds, &parts);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%d", &parts);
    return text;
}

const char* work_done(Work work) {
    switch (work) {
        case Work::replace:
            return "replaced";
        case Work::resolder:
            return "re-soldered";
        case Work::clean:
            return "cleaned";
        case Work::reflow:
            return "reflowed";
        case Work::reset:
            return "reset";
        case Work::reseat:
            return "reseated";
        case Work::bridge:
            return "bridged with a wire";
        case Work::remove:
            return "removed";
        case Work::change_setting:
            return "setting changed";
        case Work::none:
        case Work::repair:
        case Work::explain:
        case Work::wait:
        case Work::other:
            break;
    }
    return "worked on";
}

std::string percent(double share) {
    return integer_text(std::lround(100.0 * share)) + " %";
}

class Sheet {
  public:
    Sheet(const Job& job, const Knowledge& knowledge, const SheetOptions& options)
        : job_(job),
          knowledge_(knowledge),
          topology_(knowledge.find_topology(job.ticket.topology)),
          options_(options),
          full_(options.length == SheetLength::technician) {
        if (options.rules != nullptr)
            advice_ = advise(*options.rules, job, knowledge);
    }

    std::string write() {
        text_ =
            "<!DOCTYPE html>\n<html><head><meta charset=\"utf-8\"/><title>Handover sheet</title><style>"
            "body{font-family:'B612',sans-serif;font-size:10pt;color:#1d2327;background:#ffffff}"
            "h1{font-size:17pt;margin-bottom:2px}h2{font-size:12pt;margin:14px 0 4px 0;color:#0f5f6b}"
            "td,th{padding:3px 8px 3px "
            "0;text-align:left;vertical-align:top}th{color:#4f5a61;font-weight:normal}"
            "</style></head><body>\n";
        head();
        section("What you told us", job_.ticket.claim.empty() ? "Nothing was noted." : job_.ticket.claim);
        found();
        traces();
        done();
        proof();
        advice();
        terms();
        text_ += "</body></html>\n";
        return std::move(text_);
    }

  private:
    void heading(const std::string& title) { text_ += "<h2>" + escaped(title) + "</h2>\n"; }
    void paragraph(const std::string& content) { text_ += "<p>" + escaped(content) + "</p>\n"; }
    void section(const std::string& title, const std::string& content) {
        heading(title);
        paragraph(content);
    }
    void row(const std::vector<std::string>& cells) {
        text_ += "<tr>";
        for (const std::string& cell : cells)
            text_ += "<td>" + escaped(cell) + "</td>";
        text_ += "</tr>\n";
    }
    void row_if(const std::string& name, const std::string& value) {
        if (!value.empty())
            row({name, value});
    }
    [[nodiscard]] std::string part(const std::string& block) const {
        const Block* found = topology_ == nullptr ? nullptr : topology_->find_block(block);
        return found != nullptr ? found->title : block.empty() ? "Machine" : block;
    }

    void head() {
        if (!options_.logo.empty())
            text_ += "<p><img src=\"" + options_.logo + "\" height=\"60\" alt=\"\"/></p>\n";
        text_ += "<h1>" + escaped(options_.shop.empty() ? "Handover sheet" : options_.shop) + "</h1>\n";
        if (full_)
            text_ += "<p>For the next technician</p>\n";
        text_ += "<table>";
        row({"Job", job_.ticket.number});
        row({"Customer", job_.ticket.customer});
        row({"Machine", job_.ticket.machine});
        row_if("Received", date_of(job_.created_ms));
        row_if("Handed over", date_of(job_.handover.handed_ms));
        row_if("Brought along", job_.ticket.brought);
        row_if("Comes back from job", job_.ticket.return_of);
        row_if("Worked on by", job_.technician);
        if (full_ && topology_ != nullptr)
            row({"How it takes power", topology_->title});
        text_ += "</table>\n";
    }

    void readings_table(const std::vector<const Reading*>& readings) {
        text_ += "<table><tr><th>Reading</th><th>Value</th></tr>\n";
        for (const Reading* reading : readings) {
            const std::string whole = describe(*reading, *topology_);
            const std::string value = describe_value(*reading, *topology_);
            const std::string aside = reading->set_aside ? " (set aside)" : "";
            row({whole.substr(0, whole.size() - value.size() - 2),
                 value + aside + (full_ && !reading->note.empty() ? ": " + reading->note : "")});
        }
        text_ += "</table>\n";
    }

    // The customer sees the readings that were taken before the work; afterwards the proof speaks.
    [[nodiscard]] std::vector<const Reading*> shown_readings() const {
        std::vector<const Reading*> shown;
        for (const Reading& reading : job_.readings) {
            const bool of_proof =
                std::any_of(job_.proof.begin(), job_.proof.end(),
                            [&](const ProofStep& step) { return step.reading_id == reading.id; });
            if (full_ || (!reading.set_aside && !of_proof))
                shown.push_back(&reading);
        }
        return shown;
    }

    void found() {
        heading("What was found");
        if (!job_.handover.found.empty())
            paragraph(job_.handover.found);
        for (const Finding& finding : job_.findings)
            paragraph(finding.text);
        const auto shown = shown_readings();
        if (shown.empty() || topology_ == nullptr) {
            paragraph("No readings were recorded.");
            return;
        }
        readings_table(shown);
        if (full_ && !job_.said.repairs.empty()) {
            text_ += "<p>Held likely before the work:</p><table>\n";
            for (const SaidRepair& said : job_.said.repairs)
                row({part(said.block), work_done(said.work), percent(said.probability)});
            text_ += "</table>\n";
        }
    }

    void traces() {
        const SheetTraces& kept = job_.handover.traces;
        if (kept.before.reading_id.empty() && kept.after.reading_id.empty())
            return;
        // Both on the same scales, so that they can be compared.
        double seconds = 1.0;
        double volts = 5.5;
        for (const SheetTrace* trace : {&kept.before, &kept.after}) {
            for (const MeterSample& sample : trace->samples) {
                seconds = std::max(seconds, sample.t_s);
                volts = std::max(volts, 1.1 * sample.volts);
            }
        }
        heading("What the meter showed");
        text_ += "<table><tr>";
        for (const auto& [name, trace] : {std::pair{"Before", &kept.before}, {"After", &kept.after}}) {
            if (trace->reading_id.empty())
                continue;
            const PictureSize size;
            text_ += "<td>" + std::string(name) + ", " + format_quantity(seconds, Unit::seconds, 2) +
                     "<br/><img src=\"" + trace_picture(trace->samples, seconds, volts, size) +
                     "\" width=\"" + integer_text(size.width_pixels) + "\" height=\"" +
                     integer_text(size.height_pixels) + "\" alt=\"" + name + "\"/></td>";
        }
        text_ += "</tr></table>\n";
    }

    void done() {
        heading("What was done");
        if (!job_.handover.done.empty())
            paragraph(job_.handover.done);
        if (job_.acts.empty()) {
            paragraph("No work on parts was recorded.");
            return;
        }
        text_ +=
            full_ ? "<table><tr><th>Part</th><th>Work</th><th>Part from</th><th>How</th><th>Time</th></tr>\n"
                  : "<table><tr><th>Part</th><th>Work</th><th>Part from</th></tr>\n";
        for (const Act& act : job_.acts) {
            std::vector<std::string> cells{
                part(act.block), work_done(act.kind) + (act.note.empty() ? std::string() : ": " + act.note),
                origin_words(act, knowledge_.catalogue)};
            if (full_) {
                std::string how = act.school;
                std::replace(how.begin(), how.end(), '_', ' ');
                cells.push_back(how + (how.empty() || act.solder.empty() ? "" : ", ") + act.solder);
                cells.push_back(act.minutes > 0.0 ? integer_text(std::lround(act.minutes)) + " min" : "");
            }
            row(cells);
        }
        text_ += "</table>\n";
        if (!full_ || job_.rework.opening.empty())
            return;
        text_ += "<p>What comes out when it is opened:</p><table>\n";
        for (const OpeningItem& item : job_.rework.opening)
            row({integer_text(item.count) + " " + to_text(item.kind), item.place,
                 item.length_mm > 0.0 ? format_quantity(item.length_mm, Unit::none, 2) + " mm" : "",
                 item.note});
        text_ += "</table>\n";
    }

    void proof() {
        heading("What is proven");
        if (!job_.handover.unproven_reason.empty())
            paragraph("This machine leaves without full proof. Reason: " + job_.handover.unproven_reason);
        if (job_.proof.empty() || topology_ == nullptr) {
            paragraph("Nothing has been proven yet.");
            return;
        }
        const auto passed = std::count_if(job_.proof.begin(), job_.proof.end(), [](const ProofStep& step) {
            return step.state == ProofState::passed;
        });
        const bool all = passed == static_cast<std::ptrdiff_t>(job_.proof.size());
        paragraph(integer_text(passed) + " of " + integer_text(job_.proof.size()) + " checks were passed" +
                  (full_ || all ? std::string(".") : std::string("; those that were not:")));
        // The customer is shown what charges, and what does not hold; the rest is in the count.
        text_ += "<table><tr><th>Shown</th><th>Result</th><th>Reading</th></tr>\n";
        for (const ProofStep& step : job_.proof) {
            const Reading* reading = find_reading(job_, step.reading_id);
            const bool charging =
                step.state == ProofState::passed && step.kind == ReadingKind::meter && step.check.empty();
            if (!full_ && !(all ? charging : step.state != ProofState::passed))
                continue;
            std::string result = step.state == ProofState::passed   ? "passed"
                                 : step.state == ProofState::failed ? "FAILED"
                                 : step.state == ProofState::waived ? "not shown: " + step.reason
                                                                    : "not shown yet";
            row({describe(step, *topology_), result,
                 reading == nullptr ? "" : describe_value(*reading, *topology_)});
        }
        text_ += "</table>\n";
    }

    void advice() {
        const std::string written =
            !job_.handover.advice.empty() ? job_.handover.advice : joined_lines(advice_.customer);
        if (!written.empty())
            section("Advice", written);
        if (full_ && !advice_.technician.empty())
            section("To mind next time", joined_lines(advice_.technician));
        if (job_.handover.follow_up_ms != 0)
            section("To be looked at again",
                    date_of(job_.handover.follow_up_ms) + (job_.handover.follow_up.empty()
                                                               ? std::string(".")
                                                               : ": " + job_.handover.follow_up + "."));
    }

    void terms() {
        heading("Price and warranty");
        std::string line = job_.handover.price ? "Price: " + format_amount(job_.handover.price) + ". "
                                               : "Price: to be agreed. ";
        if (job_.ticket.estimate)
            line += "Estimate was " + format_amount(job_.ticket.estimate) + against_estimate() + ". ";
        if (job_.ticket.price_limit && job_.handover.price && *job_.handover.price > *job_.ticket.price_limit)
            line += "This is above the limit of " + format_amount(job_.ticket.price_limit) +
                    " that was agreed on. ";
        line += "Warranty on the work done: " + integer_text(job_.handover.warranty_months) + " months.";
        paragraph(line);
        section(
            "Please note",
            "A swollen, dented or hot battery is dangerous: stop using it and bring it in. A charger or "
            "cable that "
            "has melted or smells burnt must not be used again. Old batteries and electronics go to a "
            "collection "
            "point. Local electrical-safety rules and licensed practice come before anything on this sheet.");
    }

    [[nodiscard]] std::string against_estimate() const {
        if (!job_.handover.price)
            return "";
        const double over = *job_.handover.price - *job_.ticket.estimate;
        constexpr double a_cent = 0.005;
        if (std::abs(over) < a_cent)
            return ", and it was kept";
        return ": " + format_amount(std::abs(over)) + (over > 0.0 ? " more" : " less");
    }

    const Job& job_;
    const Knowledge& knowledge_;
    const Topology* topology_;
    SheetOptions options_;
    bool full_;
    Advice advice_;
    std::string text_;
};

}  // namespace

std::string handover_html(const Job& job, const Knowledge& knowledge, const SheetOptions& options) {
    return Sheet(job, knowledge, options).write();
}

}  // namespace eh
