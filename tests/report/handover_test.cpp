// SPDX-License-Identifier: GPL-3.0-or-later
#include <QProcess>
#include <QTemporaryDir>
#include <fstream>

#include "core/base/files.h"
#include "core/job/job_json.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "report/handover_html.h"
#include "report/handover_pdf.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Job demo_job(const std::string& start) {
    for (const auto& entry : std::filesystem::directory_iterator(default_data_directory() / "demo")) {
        if (entry.path().filename().string().rfind(start, 0) == 0)
            return *parse_job(*read_text_file(entry.path()), "demo");
    }
    FAIL("no demo job " << start);
    return {};
}

SheetOptions for_technician(const std::string& shop) {
    SheetOptions options;
    options.shop = shop;
    options.length = SheetLength::technician;
    return options;
}

// What stands as pictures in the sheet.
int pictures_in(const std::string& html) {
    int count = 0;
    for (auto at = html.find("data:image/png"); at != std::string::npos;
         at = html.find("data:image/png", at + 1))
        ++count;
    return count;
}

}  // namespace

TEST_CASE("the sheet holds what was told, found, done and proven", "[report]") {
    const std::string html =
        handover_html(demo_job("6-"), shipped_knowledge(), for_technician("Lamp & Lead"));
    for (const char* piece :
         {"Lamp &amp; Lead", "D-2606", "pushed to the left", "inner contact", "drops out when pushed",
          "19.2 V", "replaced", "passed", "68.00", "6 months", "licensed practice"}) {
        CAPTURE(piece);
        CHECK_THAT(html, Catch::Contains(piece));
    }
}

TEST_CASE("the customer's sheet is the shorter one: its words, not every reading of the proof", "[report]") {
    const Job job = demo_job("6-");
    const std::string customer = handover_html(job, shipped_knowledge());
    const std::string technician = handover_html(job, shipped_knowledge(), for_technician(""));
    CHECK(customer.size() < technician.size());
    CHECK_THAT(customer, Catch::Contains("checks were passed"));
    CHECK_THAT(technician, Catch::Contains("How it takes power"));
    // What failed or was waived is never left out.
    Job waived = job;
    waived.proof.front().state = ProofState::waived;
    waived.proof.front().reason = "no such charger in the shop";
    CHECK_THAT(handover_html(waived, shipped_knowledge()), Catch::Contains("no such charger in the shop"));
}

TEST_CASE("price against estimate and limit, follow-up, and traces before and after", "[report]") {
    Job job = demo_job("6-");
    job.handover.price = 75.0;
    job.handover.traces = {};
    job.ticket.estimate = 60.0;
    job.ticket.price_limit = 70.0;
    std::string html = handover_html(job, shipped_knowledge());
    CHECK_THAT(html, Catch::Contains("60.00: 15.00 more"));
    CHECK_THAT(html, Catch::Contains("above the limit of 70.00"));
    job.handover.price = 60.0;
    CHECK_THAT(handover_html(job, shipped_knowledge()), Catch::Contains("it was kept"));
    CHECK(pictures_in(html) == 0);
    job.handover.traces.before = {"r1", {}};
    job.handover.traces.after = {"r2", {{0.0, 5.0, 0.1}, {1.0, 20.0, 0.1}, {2.0, 20.0, 2.2}}};
    job.handover.follow_up_ms = 1'900'000'000'000;
    job.handover.follow_up = "contacts were lifted";
    html = handover_html(job, shipped_knowledge());
    CHECK(pictures_in(html) == 2);
    CHECK_THAT(html, Catch::Contains("2030-03-17: contacts were lifted"));
}

TEST_CASE("what a customer writes cannot become markup", "[report]") {
    Job job = demo_job("1-");
    job.ticket.claim = "<script>alert(\"x\")</script> & more";
    const std::string html = handover_html(job, shipped_knowledge());
    CHECK_THAT(html, !Catch::Contains("<script>"));
    CHECK_THAT(html, Catch::Contains("&lt;script&gt;"));
}

TEST_CASE("an unfinished job says what is missing, and a waived proof its reason", "[report]") {
    Job job = demo_job("1-");
    CHECK_THAT(handover_html(job, shipped_knowledge()), Catch::Contains("Nothing has been proven yet"));
    job.handover.unproven_reason = "customer could not wait";
    CHECK_THAT(handover_html(job, shipped_knowledge()), Catch::Contains("customer could not wait"));
    job.ticket.topology = "unheard of";
    CHECK_FALSE(handover_html(job, shipped_knowledge()).empty());
}

TEST_CASE("the PDF carries the same words", "[report]") {
    const QTemporaryDir folder;
    const std::string file = folder.filePath("sheet.pdf").toStdString();
    REQUIRE(write_pdf(handover_html(demo_job("5-"), shipped_knowledge(), for_technician("")), file).ok());
    QProcess reader;
    reader.start("pdftotext", {"-layout", QString::fromStdString(file), "-"});
    REQUIRE(reader.waitForFinished());
    const std::string text = reader.readAllStandardOutput().toStdString();
    for (const char* piece : {"D-2605", "3.30", "OL", "Surge protector of port 2", "not shown yet"}) {
        CAPTURE(piece, text);
        CHECK_THAT(text, Catch::Contains(piece));
    }
}

TEST_CASE("a PDF that cannot be written is an error in words", "[report]") {
    const auto written = write_pdf("<p>x</p>", "/no/such/folder/sheet.pdf");
    REQUIRE_FALSE(written.ok());
    CHECK_THAT(written.error().message, Catch::Contains("another folder"));
}

TEST_CASE("the days on the sheet are those of the shop's clock, not of Greenwich", "[report]") {
    const QByteArray before = qgetenv("TZ");
    Job job = demo_job("5");
    job.handover.handed_ms = 1767222000000;  // 2025-12-31 23:00 UTC
    qputenv("TZ", "Asia/Tokyo");
    tzset();
    CHECK_THAT(handover_html(job, shipped_knowledge(), for_technician("Shop")),
               Catch::Contains("2026-01-01"));
    qputenv("TZ", "UTC");
    tzset();
    CHECK_THAT(handover_html(job, shipped_knowledge(), for_technician("Shop")),
               Catch::Contains("2025-12-31"));
    before.isEmpty() ? qunsetenv("TZ") : qputenv("TZ", before);
    tzset();
}
