#include "report/handover_html.h"

#include <cstdio>
#include <ctime>

#include "core/electrics/engineering.h"
#include "core/job/amount.h"
#include "core/job/proof.h"

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

std::string date_of(std::int64_t ms) {
    if (ms == 0)
        return "";
    const auto seconds = static_cast<std::time_t>(ms / 1000);
    std::tm parts{};
    gmtime_r(&seconds, &parts);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%d", &parts);
    return text;
}

const char* act_word(const std::string& kind) {
    if (kind == "replace")
        return "replaced";
    if (kind == "resolder")
        return "re-soldered";
    if (kind == "clean")
        return "cleaned";
    if (kind == "reflow")
        return "reflowed";
    if (kind == "reset")
        return "reset";
    if (kind == "reseat")
        return "reseated";
    if (kind == "remove")
        return "removed";
    if (kind == "change_setting")
        return "setting changed";
    return "worked on";
}

class Sheet {
  public:
    Sheet(const Job& job, const Knowledge& knowledge, const SheetOptions& options)
        : job_(job), topology_(knowledge.find_topology(job.ticket.topology)), options_(options) {}

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
        done();
        proof();
        if (!job_.handover.advice.empty())
            section("Advice", job_.handover.advice);
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

    void head() {
        text_ +=
            "<h1>" + escaped(options_.shop.empty() ? "Handover sheet" : options_.shop) + "</h1>\n<table>";
        row({"Job", job_.ticket.number});
        row({"Customer", job_.ticket.customer});
        row({"Machine", job_.ticket.machine});
        if (!date_of(job_.created_ms).empty())
            row({"Received", date_of(job_.created_ms)});
        if (!job_.ticket.brought.empty())
            row({"Brought along", job_.ticket.brought});
        text_ += "</table>\n";
    }

    void found() {
        heading("What was found");
        if (!job_.handover.found.empty())
            paragraph(job_.handover.found);
        for (const Finding& finding : job_.findings)
            paragraph(finding.text);
        if (job_.readings.empty() || topology_ == nullptr) {
            paragraph("No readings were recorded.");
            return;
        }
        text_ += "<table><tr><th>Reading</th><th>Value</th></tr>\n";
        for (const Reading& reading : job_.readings) {
            if (reading.set_aside)
                continue;
            const std::string whole = describe(reading, *topology_);
            const std::string value = describe_value(reading, *topology_);
            row({whole.substr(0, whole.size() - value.size() - 2), value});
        }
        text_ += "</table>\n";
    }

    void done() {
        heading("What was done");
        if (!job_.handover.done.empty())
            paragraph(job_.handover.done);
        if (job_.acts.empty()) {
            paragraph("No work on parts was recorded.");
            return;
        }
        text_ += "<table><tr><th>Part</th><th>Work</th><th>Part from</th></tr>\n";
        for (const Act& act : job_.acts) {
            const Block* block = topology_ == nullptr ? nullptr : topology_->find_block(act.block);
            row({block == nullptr ? (act.block.empty() ? "Machine" : act.block) : block->title,
                 act_word(act.kind) + (act.note.empty() ? std::string() : ": " + act.note), act.part_origin});
        }
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
        text_ += "<table><tr><th>Shown</th><th>Result</th><th>Reading</th></tr>\n";
        for (const ProofStep& step : job_.proof) {
            const Reading* reading = find_reading(job_, step.reading_id);
            std::string result = step.state == ProofState::passed   ? "passed"
                                 : step.state == ProofState::failed ? "FAILED"
                                 : step.state == ProofState::waived ? "not shown: " + step.reason
                                                                    : "not shown yet";
            row({describe(step, *topology_), result,
                 reading == nullptr ? "" : describe_value(*reading, *topology_)});
        }
        text_ += "</table>\n";
    }

    void terms() {
        heading("Price and warranty");
        std::string line = job_.handover.price ? "Price: " + format_amount(job_.handover.price) + ". "
                                               : "Price: to be agreed. ";
        if (job_.ticket.estimate)
            line += "Estimate was " + format_amount(job_.ticket.estimate) + ". ";
        line += "Warranty on the work done: " + std::to_string(job_.handover.warranty_months) + " months.";
        paragraph(line);
        section(
            "Please note",
            "A swollen, dented or hot battery is dangerous: stop using it and bring it in. A charger or "
            "cable that "
            "has melted or smells burnt must not be used again. Old batteries and electronics go to a "
            "collection "
            "point. Local electrical-safety rules and licensed practice come before anything on this sheet.");
    }

    const Job& job_;
    const Topology* topology_;
    SheetOptions options_;
    std::string text_;
};

}  // namespace

std::string handover_html(const Job& job, const Knowledge& knowledge, const SheetOptions& options) {
    return Sheet(job, knowledge, options).write();
}

}  // namespace eh
