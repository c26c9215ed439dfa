// SPDX-License-Identifier: GPL-3.0-or-later
// Names that become part of paths, and files that are written in one piece.
#include <sys/stat.h>
#include <catch2/catch.hpp>

#include <fstream>

#include "core/base/files.h"
#include "core/base/identifier.h"
#include "core/base/private_files.h"
#include "core/job/job_json.h"
#include "tests/support/disk_limit.h"

using namespace eh;
namespace fs = std::filesystem;

namespace {

// Goes with the test, with everything in it.
struct Folder {
    fs::path path = fs::temp_directory_path() / ("eager-hound-test-" + std::to_string(::getpid()));
    Folder() { fs::create_directories(path); }
    ~Folder() { fs::remove_all(path); }
};

const std::vector<std::string> hostile{"",
                                       ".",
                                       "..",
                                       "../x",
                                       "../../../x",
                                       "a/b",
                                       "/etc",
                                       "a\\b",
                                       ".hidden",
                                       std::string("a\0b", 3),
                                       "a b",
                                       "a\nb",
                                       "ä",
                                       "a:b",
                                       "~x",
                                       "-%s/",
                                       std::string(longest_identifier + 1, 'a')};

unsigned rights_of(const fs::path& path) {
    return static_cast<unsigned>(fs::status(path).permissions()) & 0777U;
}

}  // namespace

TEST_CASE("an id is letters, digits, dash, underscore and points, and never a path", "[base][hostile]") {
    for (const std::string& text : hostile) {
        CAPTURE(text);
        CHECK_FALSE(fits_identifier(text));
        const auto id = JobId::from(text, "the file");
        REQUIRE_FALSE(id.ok());
        CHECK(id.error().place == "the file");
        for (const char c : id.error().text())
            CHECK(static_cast<unsigned char>(c) >= 0x20);
    }
    for (const char* text : {"j1", "A_b-c.d", "0b7c1b52-6f2c-4e0e-9c0e-2d3f1f0a9a11", "demo-earlier-1"}) {
        const auto id = JobId::from(text, {});
        REQUIRE(id.ok());
        const fs::path file = inside("/shop/traces", *id, ".trace");
        CHECK(file.parent_path() == "/shop/traces");
        CHECK(file.lexically_normal() == file);
    }
    CHECK(fits_identifier(std::string(longest_identifier, 'a')));
}

TEST_CASE("a job file with an id that is a path is refused, and so are its topology and pictures",
          "[job][hostile]") {
    const auto with = [](const std::string& id, const std::string& topology, const std::string& picture) {
        nlohmann::json file{{"format", "eager-hound.job/1"},
                            {"id", id},
                            {"ticket", {{"topology", topology}}},
                            {"rework", {{"photos", {{{"id", "p1"}, {"file", picture}}}}}}};
        return parse_job(file.dump(), "job.hound.json");
    };
    REQUIRE(with("j1", "usbc-two-chained", "p1.jpg").ok());
    for (const std::string& text : hostile) {
        if (text.find('\0') != std::string::npos)
            continue;
        CAPTURE(text);
        CHECK_FALSE(with(text, "usbc-two-chained", "p1.jpg").ok());
        CHECK_FALSE(with("j1", "usbc-two-chained", text).ok());
        if (!text.empty())  // a ticket may have no kind of machine yet
            CHECK_FALSE(with("j1", text, "p1.jpg").ok());
    }
}

TEST_CASE("a file is written whole or not at all, and never over a device or a folder", "[base][files]") {
    const Folder folder;
    const fs::path file = folder.path / "board.json";
    REQUIRE(write_text_file(file, "one").ok());
    REQUIRE(write_text_file(file, "two").ok());
    CHECK(*read_text_file(file) == "two");
    CHECK_FALSE(fs::exists(file.string() + ".part"));
    CHECK_FALSE(write_text_file("/dev/null", "x").ok());
    CHECK(fs::is_character_file("/dev/null"));
    CHECK_FALSE(write_text_file(folder.path, "x").ok());
    const fs::path pipe = folder.path / "pipe";
    REQUIRE(::mkfifo(pipe.c_str(), 0600) == 0);
    CHECK_FALSE(may_be_written(pipe).ok());
    CHECK(fs::is_fifo(pipe));
    const auto nowhere = write_text_file(folder.path / "no such folder" / "x", "x");
    REQUIRE_FALSE(nowhere.ok());
    CHECK(nowhere.error().kind == ErrorKind::unavailable);
    // A full disk leaves the old content, and no part of the new one.
    {
        const test::FilesEndAt limit(1000);
        const auto full = write_text_file(file, std::string(100000, 'x'));
        REQUIRE_FALSE(full.ok());
        CHECK(full.error().kind == ErrorKind::unavailable);
    }
    CHECK(*read_text_file(file) == "two");
    CHECK_FALSE(fs::exists(file.string() + ".part"));
    // A link goes on pointing at its file.
    fs::create_symlink(file, folder.path / "link");
    REQUIRE(write_text_file(folder.path / "link", "three").ok());
    CHECK(fs::is_symlink(folder.path / "link"));
    CHECK(*read_text_file(file) == "three");
}

TEST_CASE("what is kept of customers is for the user alone, whatever the umask", "[base][private]") {
    const Folder folder;
    const fs::path inner = folder.path / "shop.sqlite.photos" / "j1";
    const auto before = ::umask(0);
    fs::create_directories(inner);
    std::ofstream(inner / "p1.jpg") << "x";
    std::ofstream(folder.path / "outside") << "x";
    fs::create_symlink(folder.path / "outside", inner / "link");
    REQUIRE(rights_of(inner / "p1.jpg") == 0666);
    make_private(folder.path / "shop.sqlite.photos");
    CHECK(rights_of(inner / "p1.jpg") == 0600);
    CHECK(rights_of(inner) == 0700);
    CHECK(rights_of(folder.path / "outside") == 0666);  // a link is not followed
    make_private(folder.path / "not there");
    keep_files_private();
    std::ofstream(folder.path / "new") << "x";
    fs::create_directory(folder.path / "new folder");
    CHECK(rights_of(folder.path / "new") == 0600);
    CHECK(rights_of(folder.path / "new folder") == 0700);
    ::umask(before);
}
