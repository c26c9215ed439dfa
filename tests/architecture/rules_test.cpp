// SPDX-License-Identifier: GPL-3.0-or-later
// Rules that end whole classes of defects, read off the sources: each names what to use instead.
#include <filesystem>
#include <fstream>
#include <regex>
#include <sstream>

#include <catch2/catch.hpp>

namespace fs = std::filesystem;

namespace {

struct Rule {
    const char* name;
    std::regex forbidden;
    std::vector<std::string> folders;
    std::vector<std::string> but;  // files that are the place for it
};

std::string without_comments(const std::string& source) {
    static const std::regex comment(R"(//[^\n]*)");
    return std::regex_replace(source, comment, "");
}

const std::vector<std::string> all{"core",   "evaluation", "store", "instruments",
                                   "report", "cli",        "sims",  "app"};

std::vector<std::string> offences(const Rule& rule) {
    std::vector<std::string> found;
    std::size_t looked_at = 0;
    for (const std::string& folder : rule.folders) {
        for (const auto& entry : fs::recursive_directory_iterator(fs::path(EH_SOURCE_DIR) / folder)) {
            const std::string name = fs::relative(entry.path(), EH_SOURCE_DIR).string();
            if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h")
                continue;
            if (std::find(rule.but.begin(), rule.but.end(), name) != rule.but.end())
                continue;
            ++looked_at;
            std::ifstream file(entry.path());
            std::ostringstream text;
            text << file.rdbuf();
            std::istringstream lines(without_comments(text.str()));
            int number = 0;
            for (std::string line; std::getline(lines, line);) {
                ++number;
                if (std::regex_search(line, rule.forbidden))
                    found.push_back(name + ":" + std::to_string(number) + ": " + line);
            }
        }
    }
    REQUIRE(looked_at > 10);
    return found;
}

void check(const Rule& rule) {
    INFO(rule.name);
    for (const std::string& offence : offences(rule)) {
        CAPTURE(offence);
        CHECK(false);
    }
}

}  // namespace

TEST_CASE("numbers never go through the C library's locale", "[architecture][locale]") {
    check(
        {"number_text() for people, machine_number() and fmt for programs, take_number() to read",
         std::regex(
             R"(\b(s(n|v|vn)?printf|vsnprintf|std::sto[df]|std::stold|strto(d|f|ld)|atof|sscanf|fscanf)\s*\()"),
         all,
         {"core/base/text.cpp"}});
    check({"integer_text() takes no doubles",
           std::regex(R"(\bstd::to_string\s*\()"),
           all,
           {"core/base/text.h"}});
    check({"streams keep the classic locale", std::regex(R"(std::locale\b|\bimbue\s*\()"), all, {}});
    check({"keep_plain_numbers()", std::regex(R"(\bsetlocale\s*\()"), all, {"core/base/plain_numbers.h"}});
}

TEST_CASE("every program keeps the C library's numbers plain", "[architecture][locale]") {
    for (const char* main :
         {"app/main.cpp", "cli/command_line.cpp", "sims/main.cpp", "app/tools/screenshots.cpp"}) {
        std::ifstream file(fs::path(EH_SOURCE_DIR) / main);
        std::ostringstream text;
        text << file.rdbuf();
        CAPTURE(main);
        CHECK(text.str().find("keep_plain_numbers()") != std::string::npos);
    }
}

TEST_CASE("JSON is written in the one way that no text can end", "[architecture][utf8]") {
    check({"json_text()", std::regex(R"(\.dump\s*\()"), all, {"core/base/json_text.cpp"}});
}

TEST_CASE("no label says by itself that it guesses, and HTML goes through one place",
          "[architecture][plain]") {
    check({"form::show_html()",
           std::regex(R"(Qt::AutoText|Qt::RichText|setTextFormat)"),
           {"app"},
           {"app/style/plain_text_rule.cpp", "app/widgets/form_parts.cpp"}});
}

TEST_CASE("quantiles are taken in the one place that leaves out what is no number", "[architecture]") {
    check({"use core/base/quantile.h", std::regex(R"(\bnth_element\b)"), all, {"core/base/quantile.h"}});
}

TEST_CASE("threads are begun where what they throw is caught, and nowhere else", "[architecture][threads]") {
    check({"ThreadPool, spread_over_threads() or LatestTask",
           std::regex(R"(\bstd::(thread|jthread|async)\b|\bQThread\b|\bQtConcurrent\b|\bpthread_create\b)"),
           all,
           {"core/base/thread_pool.h", "core/base/thread_pool.cpp", "store/answer_wait.cpp",
            "app/services/store_lane.h"}});
}

TEST_CASE("no test's name holds what CMake takes for the end of a name", "[architecture]") {
    // Over whole files: a long name stands on a line of its own.
    const std::regex broken_name(R"(TEST_CASE\(\s*"[^"]*;)");
    int looked_at = 0;
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(EH_SOURCE_DIR) / "tests")) {
        if (entry.path().extension() != ".cpp")
            continue;
        ++looked_at;
        std::ifstream file(entry.path());
        std::ostringstream text;
        text << file.rdbuf();
        INFO("use a comma or a colon: ctest would look for two tests, neither of which is there");
        CAPTURE(entry.path().string());
        const std::string whole = text.str();
        CHECK_FALSE(std::regex_search(whole, broken_name));
    }
    CHECK(looked_at > 50);
}

TEST_CASE("every source names its licence, and is short enough to be read in one go", "[architecture]") {
    constexpr int longest = 500;
    // One class each, which stands until the work on machines of other makers rewrites it.
    const std::vector<std::string> longer{"core/inference/ranking.cpp", "core/planning/next_act.cpp"};
    std::vector<std::string> folders = all;
    folders.insert(folders.end(), {"bench", "fuzz", "tests"});
    std::size_t looked_at = 0;
    for (const std::string& folder : folders) {
        for (const auto& entry : fs::recursive_directory_iterator(fs::path(EH_SOURCE_DIR) / folder)) {
            if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h")
                continue;
            const std::string name = fs::relative(entry.path(), EH_SOURCE_DIR).string();
            CAPTURE(name);
            std::ifstream file(entry.path());
            std::string line;
            std::getline(file, line);
            CHECK(line == "// SPDX-License-Identifier: GPL-3.0-or-later");
            int lines = 1;
            while (std::getline(file, line))
                ++lines;
            if (std::find(longer.begin(), longer.end(), name) == longer.end())
                CHECK(lines <= longest);
            ++looked_at;
        }
    }
    CHECK(looked_at > 500);
}
