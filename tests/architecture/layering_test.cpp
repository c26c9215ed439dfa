// Arrows only downward, read off the include lines of the sources themselves.
#include <filesystem>
#include <fstream>
#include <map>
#include <set>

namespace fs = std::filesystem;

namespace {

struct Include {
    std::string file;
    std::string target;
};

std::vector<Include> includes_below(const std::string& folder) {
    std::vector<Include> list;
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(EH_SOURCE_DIR) / folder)) {
        const auto extension = entry.path().extension();
        if (extension != ".cpp" && extension != ".h")
            continue;
        std::ifstream file(entry.path());
        for (std::string line; std::getline(file, line);) {
            if (line.rfind("#include", 0) != 0)
                continue;
            const auto from = line.find_first_of("<\"") + 1;
            const auto to = line.find_first_of(">\"", from);
            list.push_back({entry.path().string(), line.substr(from, to - from)});
        }
    }
    return list;
}

bool is_qt_header(const std::string& target) {
    return target.size() > 1 && target[0] == 'Q' && target[1] >= 'A' && target[1] <= 'Z';
}

}  // namespace

TEST_CASE("core includes no Qt header", "[architecture]") {
    const auto includes = includes_below("core");
    REQUIRE(includes.size() > 50);
    for (const Include& include : includes) {
        CAPTURE(include.file, include.target);
        CHECK_FALSE(is_qt_header(include.target));
        CHECK(include.target.rfind("qcustomplot", 0) != 0);
    }
}

TEST_CASE("layers include only what lies below them", "[architecture]") {
    const std::map<std::string, std::set<std::string>> allowed{
        {"core", {"core"}},
        {"store", {"store", "core"}},
        {"instruments", {"instruments", "core"}},
        {"report", {"report", "core"}},
        {"sims", {"sims", "core"}},
        {"cli", {"cli", "report", "store", "instruments", "core"}},
        {"app", {"app", "report", "store", "instruments", "core"}},
    };
    for (const auto& [layer, below] : allowed) {
        for (const Include& include : includes_below(layer)) {
            const std::string first = include.target.substr(0, include.target.find('/'));
            if (allowed.count(first) == 0)
                continue;
            CAPTURE(include.file, include.target);
            CHECK(below.count(first) == 1);
        }
    }
}
