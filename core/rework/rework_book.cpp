// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/rework_book.h"

#include <algorithm>
#include <optional>

#include "core/base/files.h"

namespace eh {
namespace {

// Reads one file into `target`; what is wrong, or nothing.
template <typename T, typename Parse>
std::optional<Error> take(const std::filesystem::path& folder, const char* name, Parse parse, T& target) {
    const auto text = read_text_file(folder / name);
    if (!text)
        return text.error();
    auto parsed = parse(*text, name);
    if (!parsed)
        return parsed.error();
    target = std::move(parsed).value();
    return std::nullopt;
}

}  // namespace

const HeatPart* ReworkBook::find_heat_part(const std::string& id) const {
    const auto found = std::find_if(heat_parts.begin(), heat_parts.end(),
                                    [&](const HeatPart& part) { return part.id == id; });
    return found == heat_parts.end() ? nullptr : &*found;
}

const Footprint* ReworkBook::find_footprint(const std::string& id) const {
    const auto found =
        std::find_if(footprints.begin(), footprints.end(), [&](const Footprint& f) { return f.id == id; });
    return found == footprints.end() ? nullptr : &*found;
}

Result<ReworkBook> load_rework(const std::filesystem::path& data_directory) {
    const auto folder = data_directory / "rework";
    ReworkBook book;
    for (const auto& problem : {take(folder, "alloys.json", parse_alloys, book.alloys),
                                take(folder, "heat_parts.json", parse_heat_parts, book.heat_parts),
                                take(folder, "repairs.json", parse_repairs, book.repairs),
                                take(folder, "footprints.json", parse_footprints, book.footprints),
                                take(folder, "bias_bands.json", parse_bias_bands, book.bias_bands),
                                take(folder, "receptacle_pins.json", parse_receptacle_pins, book.receptacle),
                                take(data_directory, "advice.json", parse_advice, book.advice)})
        if (problem)
            return *problem;
    for (const RepairKind& repair : book.repairs.repairs)
        if (!repair.heat_part.empty() && book.find_heat_part(repair.heat_part) == nullptr)
            return refused("“" + repair.heat_part + "” is no part of heat_parts.json",
                           "repairs.json: " + repair.id);
    return book;
}

}  // namespace eh
