// SPDX-License-Identifier: GPL-3.0-or-later
// The command line as a person or a script meets it: the real program, its output and exit codes.
#include <QTemporaryDir>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/board/board_json.h"
#include "core/board/part_body.h"
#include "core/job/job_json.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/knowledge/machine_profile.h"
#include "core/thermal/frame_files.h"
#include "core/thermal/heat_scene.h"
#include "tests/support/own_path.h"
#include "tests/support/program.h"
#include "tests/support/shop.h"

using eh::test::Run;
using eh::test::run;
using nlohmann::json;

namespace {

QByteArray bytes(const char* name) {
    QFile file(QString::fromLatin1(EH_SOURCE_DIR) + name);
    REQUIRE(file.open(QIODevice::ReadOnly));
    return file.readAll();
}

QString demo(const char* name) {
    return QStringLiteral(EH_SOURCE_DIR "/data/demo/") + name;
}

}  // namespace

TEST_CASE("diagnose names the part with its reasons", "[cli]") {
    const Run result = run({"diagnose", demo("5-D-2605.hound.json")});
    INFO(result.err);
    REQUIRE(result.code == 0);
    const json answer = json::parse(result.out);
    CHECK(answer["suspects"][0]["part"] == "sp2");
    CHECK(answer["suspects"][0]["probability"].get<double>() > 0.9);
    CHECK(answer["suspects"][0]["because"].size() >= 4);
    const auto apart = json::parse(run({"diagnose", "--explanations", demo("5-D-2605.hound.json")}).out);
    CHECK(apart["explanations"][0]["faults"][0]["part"] == "sp2");
    CHECK(apart["explanations"].size() > 50);
    // Parts may be at fault together, so that their probabilities need not stop at 1.
    double sum = 0.0;
    for (const json& suspect : answer["suspects"]) {
        CHECK(suspect["probability"].get<double>() <= 1.0);
        sum += suspect["probability"].get<double>();
    }
    CHECK(sum == Approx(1.0).epsilon(0.05));
}

TEST_CASE("next proposes acts with minutes and what they would tell", "[cli]") {
    const Run result =
        run({"next", demo("2-D-2602.hound.json"), "--most", "12", "--without", "talk", "--without", "look"});
    INFO(result.err);
    REQUIRE(result.code == 0);
    const json answer = json::parse(result.out);
    REQUIRE(answer["acts"].size() > 2);
    CHECK(answer["acts"].size() <= 12);
    CHECK(answer["acts"][0]["minutes"].get<double>() > 0.0);
    CHECK_FALSE(answer["acts"][0]["tells"].empty());
    for (const json& act : answer["acts"]) {
        CHECK(act.value("reading", "") != "talk");
        CHECK(act.value("reading", "") != "look");
        CHECK(act.value("reading", "") != "board_look");
    }
    const Run unknown = run({"next", demo("2-D-2602.hound.json"), "--without", "crystal_ball"});
    CHECK(unknown.code == 2);
    CHECK_THAT(unknown.err, Catch::Contains("crystal_ball"));
}

TEST_CASE("simulate shows volts, ohms and a stream, and is the same for the same seed", "[cli]") {
    const QStringList arguments{"simulate", "--topology", "barrel-id", "--fault", "jack_shorted@jack=1.5",
                                "--seed",   "7",          "--rate",    "10"};
    const Run first = run(arguments);
    REQUIRE(first.code == 0);
    const json answer = json::parse(first.out);
    CHECK(answer["ohms"]["jout"].get<double>() == Approx(1.5).epsilon(0.02));
    CHECK(answer.contains("stream"));
    CHECK(run(arguments).out == first.out);
}

TEST_CASE("report prints the sheet, from standard input too", "[cli]") {
    std::ifstream file(demo("6-D-2606.hound.json").toStdString());
    const std::string text{std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()};
    const Run result = run({"report", "-"}, QByteArray::fromStdString(text));
    REQUIRE(result.code == 0);
    CHECK_THAT(result.out, Catch::StartsWith("<!DOCTYPE html>"));
}

TEST_CASE("battery reads a machine's own report and a job's readings", "[cli][battery]") {
    const QByteArray report =
        "POWER_SUPPLY_STATUS=Charging\nPOWER_SUPPLY_CYCLE_COUNT=412\nPOWER_SUPPLY_VOLTAGE_MIN_DESIGN="
        "7600000\n"
        "POWER_SUPPLY_ENERGY_FULL_DESIGN=56000000\nPOWER_SUPPLY_ENERGY_FULL=46000000\n"
        "POWER_SUPPLY_POWER_NOW=28400000\nPOWER_SUPPLY_CAPACITY=50\n";
    const json answer = json::parse(run({"battery", "-"}, report).out);
    CHECK(answer["report"]["health"].get<double>() == Approx(46.0 / 56.0));
    // 7.6 V nominal are two cells of 3.8 V, full at 2 x 4.35 V (trade-notes section 10).
    CHECK(answer["pack"]["in_series"] == 2);
    CHECK(answer["pack"]["full_volts"].get<double>() == Approx(8.70));
    // Half of 46 Wh at 28.4 W takes at least 48.6 minutes.
    CHECK(answer["time_to_full"]["expected_s"].get<double>() > 23.0 / 28.4 * 3600.0);
    CHECK(answer["time_to_full"]["expected_s"].get<double>() < 2.0 * 23.0 / 28.4 * 3600.0);
    eh::Job job;
    job.ticket.topology = eh::test::chained;
    job.id = "b";
    job.battery.cells = "li_hv_380";
    job.battery.in_series = 2;
    for (int i = 0; i < 20; ++i)
        job.battery.readings.push_back({12.0 * i, 7.93 + 0.01 * (i / 3), true, 41.0});
    job.battery.machine_watts = 11.0;
    const json verdict =
        json::parse(run({"battery", "-"}, QByteArray::fromStdString(eh::job_to_text(job))).out)["verdict"];
    CHECK(verdict["state"] == "charging");
    CHECK(verdict["pack_watts"].get<double>() == Approx(30.0));
    CHECK(run({"battery", "-"}, "nothing of the kind").code == 1);
}

TEST_CASE("refused input is exit 1 with a sentence, wrong usage exit 2, and nothing on standard output",
          "[cli]") {
    struct Row {
        QStringList arguments;
        QByteArray input;
        int code;
        const char* named;
    };
    const std::vector<Row> rows{
        {{"diagnose", "/no/such/file"}, {}, 1, "cannot be opened"},
        {{"diagnose", "-"}, "{\"format\":\"eager-hound.job/1\",", 1, "cut off"},
        {{"diagnose", "-"},
         R"({"format":"eager-hound.job/1","id":"x","ticket":{"topology":"teapot"}})",
         1,
         "teapot"},
        {{"simulate", "--topology", "teapot"}, {}, 1, "teapot"},
        {{"simulate", "--topology", "barrel-id", "--fault", "nothing@jack"}, {}, 1, "nothing"},
        {{"simulate", "--topology", "barrel-id", "--fault", "jack_shorted@nowhere"}, {}, 1, "nowhere"},
        {{"simulate", "--topology", "barrel-id", "--fault", "jack_shorted"}, {}, 1, "fault@part"},
        {{"simulate", "--topology", "barrel-id", "--port", "p7"}, {}, 1, "p7"},
        {{"simulate"}, {}, 2, "topology"},
        {{"dance"}, {}, 2, ""},
        {{}, {}, 2, ""},
    };
    for (const Row& row : rows) {
        const Run result = run(row.arguments, row.input);
        CAPTURE(row.arguments.join(' ').toStdString(), result.err);
        CHECK(result.code == row.code);
        CHECK(result.out.empty());
        CHECK_THAT(result.err, Catch::Contains(row.named));
    }
}

TEST_CASE("demo jobs and worked examples are valid against the published schema", "[cli][schema]") {
    // The schema is checked by the reference validator for JSON Schema in Debian (python3-jsonschema).
    QProcess validator;
    validator.start("/usr/bin/python3", {EH_SOURCE_DIR "/scripts/validate-data"});
    REQUIRE(validator.waitForFinished());
    INFO(validator.readAllStandardOutput().toStdString());
    INFO(validator.readAllStandardError().toStdString());
    CHECK(validator.exitCode() == 0);
}

TEST_CASE("pd writes what a machine says and reads it back with a verdict", "[cli][usbc]") {
    for (const char* ending : {".vcd", ".json"}) {
        const QString file = QString::fromStdString(eh::test::own_path("talk").string()) + ending;
        const Run written = run({"pd", "talk", "--topology", "usbc-two-chained", "--fault",
                                 "controller_stuck@pc2", "--port", "p2", "--seconds", "3", "--out", file});
        INFO(written.err);
        REQUIRE(written.code == 0);
        const Run read = run({"pd", "decode", file});
        INFO(read.err);
        REQUIRE(read.code == 0);
        const json answer = json::parse(read.out);
        CHECK(answer["verdict"]["end"] == "unanswered");
        CHECK(answer["verdict"]["end"] == json::parse(written.out)["end"]);
        CHECK(answer["verdict"]["offers"].size() == 4);
        CHECK(answer["frames"][0]["says"].get<std::string>().find("The charger") == 0);
        std::filesystem::remove(file.toStdString());
    }
    CHECK(run({"pd", "decode", "/nowhere/at/all.vcd"}).code == 1);
    CHECK(run({"pd", "sing"}).code == 2);
}

TEST_CASE("trace reads a recording from standard input", "[cli][trace]") {
    QByteArray csv = "t_s,volts,amps\n";
    for (int i = 0; i < 400; ++i)
        csv += QByteArray::number(0.02 * i) + (i < 100 ? ",5.01,0.02\n" : ",20.02,0.03\n");
    const Run result = run({"trace"}, csv);
    INFO(result.err);
    REQUIRE(result.code == 0);
    const json answer = json::parse(result.out);
    REQUIRE(answer["spans"].size() == 2);
    CHECK(answer["spans"][1]["nominal_volts"] == 20.0);
    CHECK(answer["events"][1]["kind"] == "contract_step");
    CHECK(run({"trace", "/nowhere/at/all.csv"}).code == 1);
}

TEST_CASE("a board is described, with a net and where it goes on", "[cli]") {
    const QString file =
        QString::fromStdString((eh::default_data_directory() / "boards" / "demo-board.json").string());
    const auto told = run({"board", file, "--net", "chgin", "--part", "RS1"});
    REQUIRE(told.code == 0);
    const auto answer = nlohmann::json::parse(told.out);
    CHECK(answer["parts"].get<int>() > 350);
    CHECK(answer["net"]["name"] == "chgin");
    CHECK(answer["part"]["pins"].size() == 2);
    CHECK(run({"board", file, "--net", "nowhere"}).code == 1);
    CHECK(run({"board", "/no/such/board"}).code == 1);
}

TEST_CASE("millivolts along the copper name a part, and say what is missing", "[cli]") {
    const QString file =
        QString::fromStdString((eh::default_data_directory() / "boards" / "demo-board.json").string());
    const auto net = nlohmann::json::parse(run({"board", file, "--net", "chgin"}).out)["net"];
    QStringList asked{"locate", file, "--net", "chgin", "--fed-at", "20", "40", "--amps", "2", "--read"};
    int read = 0;
    for (const auto& part : net["parts"]) {
        if (part["name"].get<std::string>().front() == 'C' && read < 4)
            asked << QStringLiteral("%1=%2").arg(QString::fromStdString(part["name"])).arg(10.0 + read++);
    }
    REQUIRE(read == 4);
    const auto told = run(asked);
    REQUIRE(told.code == 0);
    const auto answer = nlohmann::json::parse(told.out);
    CHECK(answer["candidates"].size() == net["parts"].size());
    double sum = 0.0;
    for (const auto& one : answer["candidates"])
        sum += one["probability"].get<double>();
    CHECK(sum == Approx(1.0));
    CHECK(run({"locate", file, "--net", "chgin", "--fed-at", "20", "40", "--read", "C15"}).code == 1);
    CHECK(run({"locate", file, "--net", "nowhere", "--fed-at", "20", "40"}).code == 1);
    const auto played = run({"locate", "--evaluate", "20", "--seed", "5"});
    REQUIRE(played.code == 0);
    const auto score = nlohmann::json::parse(played.out);
    CHECK(score["boards"] == 20);
    CHECK(score["right_in_two"].get<double>() > 0.6);
}

TEST_CASE("heat names the warm part from frames, by a reference and by the supply's rhythm",
          "[cli][thermal]") {
    using namespace eh;
    const QString board_file = QStringLiteral(EH_SOURCE_DIR "/data/boards/demo-board.json");
    const auto board = read_board(board_file.toStdString());
    REQUIRE(board.ok());
    const int part = board->map.find_part("DP2");
    const HeatSceneOptions camera;
    const PlaneMap view = camera_over(body_of(board->map, part)->centre(), 50.0, camera);
    HeatScene scene = swinging_scene(board->map, part, 0.2, 4.0, view, 5, camera);
    const QTemporaryDir folder;
    const auto write = [&](const char* name, const std::string& bytes) {
        const QString file = folder.path() + "/" + name;
        std::ofstream(file.toStdString(), std::ios::binary) << bytes;
        return file;
    };
    const ThermalScale scale{0.002, -20.0};
    std::string cold;
    for (int i = 0; i < 20; ++i)
        cold += write_pgm(scene.frame(), scale);
    std::string swinging;
    std::string warm;
    for (int i = 0; i < 160; ++i) {
        scene.advance(0.2, i % 20 >= 10);
        swinging += write_pgm(scene.frame(), scale);
        warm += i % 20 >= 17 ? write_pgm(scene.frame(), scale) : "";
    }
    QStringList marks;
    for (const PicturePoint corner :
         {PicturePoint{0, 0}, PicturePoint{159, 0}, PicturePoint{159, 119}, PicturePoint{0, 119}}) {
        const Point place = view.place_of(corner);
        marks << "--mark"
              << QStringLiteral("%1,%2=%3,%4")
                     .arg(corner.x_px)
                     .arg(corner.y_px)
                     .arg(place.x_mm)
                     .arg(place.y_mm);
    }
    const QString looked = write("swinging.pgm", swinging);
    const auto first_of = [](const Run& result) {
        INFO(result.err);
        REQUIRE(result.code == 0);
        const json answer = json::parse(result.out);
        CHECK(answer["can_tell"] == true);
        return answer["candidates"][0]["part"].get<std::string>();
    };
    const QStringList asked = QStringList{"heat", board_file, looked, "--net", "vbus2"} + marks;
    CHECK(first_of(run(asked)) == "DP2");
    CHECK(first_of(run(asked + QStringList{"--period", "4"})) == "DP2");
    CHECK(first_of(run(QStringList{"heat", board_file, write("warm.pgm", warm), "--net", "vbus2",
                                   "--reference", write("cold.pgm", cold)} +
                       marks)) == "DP2");
    // What is missing or wrong is said.
    CHECK(run(asked.mid(0, 7)).code == 1);  // one mark
    const Run bad_mark = run(asked + QStringList{"--mark", "here"});
    CHECK(bad_mark.code == 1);
    CHECK_THAT(bad_mark.err, Catch::Contains("x_px"));
    const Run no_net = run({"heat", board_file, looked, "--net", "nowhere"});
    CHECK(no_net.code != 0);
    const Run no_frames = run(QStringList{"heat", board_file, write("words.csv", "words")} + marks);
    CHECK(no_frames.code == 1);
    CHECK_THAT(no_frames.err, Catch::Contains("words.csv"));
}

TEST_CASE("locate plays its searches on seeded boards", "[cli]") {
    const Run rails = run({"locate", "--evaluate", "500", "--rails", "--seed", "4"});
    REQUIRE(rails.code == 0);
    CHECK(json::parse(rails.out)["sound_called_short"] == 0);
    const Run heat = run({"locate", "--evaluate", "2", "--heat", "--seed", "4"});
    REQUIRE(heat.code == 0);
    CHECK(json::parse(heat.out)["boards"] == 2);
}

TEST_CASE("kinds of machine that the shop described are known on the command line", "[cli]") {
    const QTemporaryDir folder;
    const auto& knowledge = eh::test::shipped_knowledge();
    eh::MachineProfile profile = eh::profile_like(*knowledge.find_topology("barrel-id"), knowledge);
    profile.title = "Black 15-inch";
    profile.cells_in_series = 3;
    std::ofstream(folder.filePath("black.json").toStdString()) << *eh::write_profile(profile, knowledge);
    std::ofstream(folder.filePath("broken.json").toStdString()) << "{";
    const QStringList simulate{"simulate", "--topology", "black-15-inch"};
    CHECK(run(simulate).code == 1);
    const Run known = run(QStringList{"--own-machines", folder.path()} + simulate);
    INFO(known.err);
    REQUIRE(known.code == 0);
    CHECK_THAT(known.err, Catch::Contains("broken.json"));
    CHECK(json::parse(known.out).is_object());
}

TEST_CASE("the version is asked like that of any program", "[cli]") {
    const Run result = run({"--version"});
    CHECK(result.code == 0);
    CHECK_THAT(result.out, Catch::Contains("eager-hound-cli "));
}

TEST_CASE("an answer that cannot be written is an error", "[cli]") {
    QProcess process;
    process.setStandardOutputFile("/dev/full");
    process.start(EH_CLI, {"trace", demo("none")});
    REQUIRE(process.waitForFinished(60000));
    CHECK(process.exitCode() == 1);
    process.setStandardOutputFile("/dev/full");
    process.start(EH_CLI, {"next", demo("2-D-2602.hound.json")});
    REQUIRE(process.waitForFinished(60000));
    CHECK(process.exitCode() == 1);
    CHECK_THAT(process.readAllStandardError().toStdString(), Catch::Contains("could not be written"));
}

TEST_CASE("control characters of inputs reach no terminal", "[cli]") {
    const auto clean = [](const std::string& text) {
        return std::none_of(text.begin(), text.end(), [](char c) {
            return (static_cast<unsigned char>(c) < 0x20 && c != '\n') || c == 0x7F;
        });
    };
    const Run job = run({"diagnose", "-"},
                        R"({"format":"eager-hound.job/1","id":"\u001b]0;x\u0007","ticket":{"topology":""}})");
    CHECK(job.code == 1);
    CHECK(clean(job.err));
    const Run option = run({"diagnose", "--\x1b[31mred"});
    CHECK(option.code == 2);
    CHECK(clean(option.err));
    const Run longest = run({"diagnose", "-"}, "{\"format\": \"" + QByteArray(100000, 'x') + "\"}");
    CHECK(longest.code == 1);
    CHECK(longest.err.size() < 5000);
}

TEST_CASE("no command takes the place of a device, or of what it reads", "[cli]") {
    const QTemporaryDir folder;
    const Run pdf = run({"report", demo("5-D-2605.hound.json"), "--pdf", "/dev/null"});
    CHECK(pdf.code == 1);
    CHECK(std::filesystem::is_character_file("/dev/null"));
    const QString board = folder.filePath("board.json");
    REQUIRE(QFile::copy(EH_SOURCE_DIR "/data/boards/demo-board.json", board));
    const auto size = std::filesystem::file_size(board.toStdString());
    CHECK(run({"board", board, "--out", board}).code == 1);
    CHECK(std::filesystem::file_size(board.toStdString()) == size);
    CHECK(run({"board", board, "--out", folder.filePath("again.json")}).code == 0);
}

TEST_CASE("a capture that asks how it is to be read names the options, and they answer it", "[cli]") {
    std::string clock = "logic\n";
    for (int i = 0; i < 200; ++i)
        clock += i % 3 == 0 ? "1\n" : "0\n";
    const Run asked = run({"pd", "decode", "-"}, clock.c_str());
    CHECK(asked.code == 1);
    CHECK_THAT(asked.err, Catch::Contains("--rate"));
    CHECK_THAT(asked.err, !Catch::Contains("Nothing was said"));
    const QByteArray comma = bytes("/tests/data/captures/pd-time-in-us.csv");
    const Run unit = run({"pd", "decode", "-", "--time-unit", "us"}, comma);
    CHECK(unit.code == 0);
    CHECK_FALSE(json::parse(unit.out)["frames"].empty());
    CHECK(run({"pd", "decode", "-", "--time-unit", "fortnights"}, comma).code != 0);
}

TEST_CASE("captures and boards are read from standard input, too", "[cli]") {
    const Run capture = run({"pd", "decode", "-"}, bytes("/tests/data/captures/pd-begun-late.messages.json"));
    INFO(capture.err);
    REQUIRE(capture.code == 0);
    CHECK_FALSE(json::parse(capture.out)["verdict"]["conclusive"].get<bool>());
    const Run board = run({"board", "-"}, bytes("/tests/data/hostile/board-net-latin1.d356"));
    REQUIRE(board.code == 0);
    CHECK(json::parse(board.out)["nets"] == 1);
    CHECK(run({"pd", "decode", "-"}, "").code == 1);
}

TEST_CASE("a conversion is planned as on its page", "[cli]") {
    const Run good = run({"conversion", "--adapter-volts", "19.5", "--adapter-watts", "65", "--source-watts",
                          "65", "--space-mm", "6", "20", "12"});
    INFO(good.err);
    REQUIRE(good.code == 0);
    const json plan = json::parse(good.out);
    CHECK(plan["contract"]["volts"] == 20.0);
    CHECK(plan["above_adapter"].get<double>() == Approx(20.0 / 19.5 - 1.0));
    CHECK_FALSE(plan["checklist"].empty());
    const Run tight = run({"conversion", "--space-mm", "2", "20", "12"});
    REQUIRE(tight.code == 0);
    CHECK(json::parse(tight.out)["verdict"] != plan["verdict"]);
    CHECK(run({"conversion", "--source", "a label"}).code == 1);
    CHECK(run({"conversion", "--idle-watts", "-3"}).code == 1);
    CHECK(run({"conversion", "--id", "magic"}).code > 1);
}

TEST_CASE("a folder, a missing file and a cut one each get their sentence with the file's name", "[cli]") {
    QTemporaryDir folder;
    const QString missing = folder.filePath("missing.any");
    const QString empty = folder.filePath("empty.any");
    QFile made(empty);
    REQUIRE(made.open(QIODevice::WriteOnly));
    made.close();
    const QString board = QStringLiteral(EH_SOURCE_DIR "/data/boards/demo-board.json");
    const auto commands = [&](const QString& file) {
        return std::vector<QStringList>{{"diagnose", file},
                                        {"next", file},
                                        {"battery", file},
                                        {"report", file},
                                        {"trace", file},
                                        {"board", file},
                                        {"pd", "decode", file},
                                        {"locate", file, "--net", "x"},
                                        {"heat", board, file, "--mark", "0,0=0,0", "--mark", "9,0=9,0",
                                         "--mark", "9,9=9,9", "--mark", "0,9=0,9"}};
    };
    for (const QString& file : {folder.path(), missing, empty}) {
        for (const QStringList& command : commands(file)) {
            const Run refused = run(command);
            CAPTURE(command.join(' ').toStdString(), refused.err);
            CHECK(refused.code == 1);
            CHECK_THAT(refused.err, Catch::Contains(QFileInfo(file).fileName().toStdString()));
            CHECK(refused.out.empty());
        }
    }
}
