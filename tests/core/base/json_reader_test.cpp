// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json_reader.h"

#include <filesystem>
#include <fstream>

#include "core/base/files.h"
#include "tests/support/own_path.h"

using namespace eh;

namespace {

struct Sample {
    std::string name;
    double number = 0.0;
    bool flag = false;
};

Result<Sample> read_sample(const std::string& text) {
    return read_json<Sample>(text, "sample.json", [](const JsonReader& root) {
        root.check_format("test.sample", 2);
        return Sample{root.text("name"), root.number_between("number", 0.0, 10.0),
                      root.boolean("flag", true)};
    });
}

}  // namespace

TEST_CASE("a good document is read, with defaults where fields may be missing", "[base][json]") {
    const auto sample = read_sample(R"({"format":"test.sample/1","name":"x","number":3.5})");
    REQUIRE(sample.ok());
    CHECK(sample->name == "x");
    CHECK(sample->number == 3.5);
    CHECK(sample->flag);
}

TEST_CASE("each refusal names file and field", "[base][json]") {
    struct Row {
        const char* text;
        const char* named;
    };
    for (const Row& row : std::vector<Row>{
             {R"({"format":"test.sample/1","number":3})", "name"},
             {R"({"format":"test.sample/1","name":7,"number":3})", "text in quotes"},
             {R"({"format":"test.sample/1","name":"x","number":"3"})", "a number is wanted"},
             {R"({"format":"test.sample/1","name":"x","number":11})", "between"},
             {R"({"format":"test.sample/1","name":"x","number":3,"flag":"yes"})", "true or false"},
             {R"({"format":"test.sample/3","name":"x","number":3})", "newer program"},
             {R"({"format":"test.sample","name":"x","number":3})", "not a file of the format"},
             {R"({"format":"test.sample/x","name":"x","number":3})", "no version number"},
             {R"({"format":"other/1"})", "other"},
             {R"([])", "object"}}) {
        const auto sample = read_sample(row.text);
        CAPTURE(row.text);
        REQUIRE_FALSE(sample.ok());
        CHECK_THAT(sample.error().text(), Catch::StartsWith("sample.json"));
        CHECK_THAT(sample.error().text(), Catch::Contains(row.named));
    }
}

TEST_CASE("a parse error gives line and column", "[base][json]") {
    const auto sample = read_sample("{\n  \"format\": \"test.sample/1\",\n  \"name\": oops\n}");
    REQUIRE_FALSE(sample.ok());
    CHECK_THAT(sample.error().place, Catch::Contains("line 3"));
    CHECK_THAT(sample.error().message, Catch::Contains("not valid JSON"));
}

TEST_CASE("a newer version has a kind of its own", "[base][json]") {
    CHECK(read_sample(R"({"format":"test.sample/9"})").error().kind == ErrorKind::newer_version);
    CHECK(read_sample("{").error().kind == ErrorKind::refused_input);
}

TEST_CASE("files: read whole, refused when missing, a folder, or too large", "[base]") {
    const auto folder = test::own_path("files");
    std::filesystem::create_directories(folder);
    const auto file = folder / "a.txt";
    std::ofstream(file, std::ios::binary) << std::string("a\0b\n", 4);
    CHECK(*read_text_file(file) == std::string("a\0b\n", 4));
    CHECK(read_text_file(folder / "missing").error().kind == ErrorKind::not_found);
    CHECK_THAT(read_text_file(folder).error().message, Catch::Contains("folder"));
    CHECK_THAT(read_text_file(file, 3).error().message, Catch::Contains("larger"));
    std::filesystem::remove_all(folder);
}

TEST_CASE("an error's text has its place in front", "[base]") {
    CHECK(refused("no", "here").text() == "here: no");
    CHECK(refused("no").text() == "no");
}
