// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/heat_command.h"

#include <algorithm>
#include <array>

#include "core/base/files.h"
#include "core/base/lines.h"
#include "core/board/board_json.h"
#include "core/thermal/frame_files.h"
#include "core/thermal/heat_search.h"
#include "core/thermal/lock_in.h"
#include "core/thermal/rhythm.h"
#include "core/trace/trace_csv.h"
#include "evaluation/heat_evaluation.h"
#include "evaluation/rail_evaluation.h"

namespace eh::cli {

using nlohmann::json;

namespace {

constexpr std::size_t most_bytes = 1U << 30U;  // some minutes of a camera

struct Frames {
    std::vector<ThermalFrame> frames;
    json remarks = json::array();
};

Result<Frames> read_all(const std::vector<std::string>& files) {
    Frames all;
    FrameReading how;
    how.most_bytes = most_bytes;
    for (const std::string& file : files) {
        auto read = read_frame_file(file, how);
        if (!read)
            return read.error();
        FrameFile own = std::move(read).value();
        for (ThermalFrame& frame : own.frames) {
            if (!all.frames.empty() && !frame.same_size(all.frames.front()))
                all.remarks.push_back(file + ": a frame of another size than the first was left out");
            else
                all.frames.push_back(std::move(frame));
        }
        for (const std::string& remark : own.remarks)
            all.remarks.push_back(remark);
    }
    if (all.frames.empty())
        return refused("no frames were given");
    return all;
}

// "x_px,y_px=x_mm,y_mm"
Result<MarkedPoint> read_mark(const std::string& text) {
    std::array<double, 4> numbers{};
    constexpr std::array<char, 4> between{',', '=', ',', '\0'};
    std::string_view rest(text);
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const auto number = take_number(rest);
        const bool goes_on =
            i + 1 == numbers.size() ? rest.empty() : !rest.empty() && rest.front() == between[i];
        if (!number || !goes_on)
            return refused("write a mark as x_px,y_px=x_mm,y_mm, for instance 12,40=85.5,20.25", text);
        numbers[i] = *number;
        rest.remove_prefix(rest.empty() ? 0 : 1);
    }
    return MarkedPoint{{numbers[0], numbers[1]}, {numbers[2], numbers[3]}};
}

Result<Rhythm> rhythm_of(const HeatQuestion& question, const std::vector<ThermalFrame>& frames) {
    if (question.period_s > 0.0)
        return Rhythm::of_period(question.period_s, frames.front().t_s.value_or(0.0),
                                 frames.back().t_s.value_or(0.0));
    if (!question.trace.empty()) {
        const auto file = open_for_reading(question.trace);
        if (!file)
            return file.error();
        const auto trace = read_trace_csv(**file, question.trace);
        if (!trace)
            return trace.error();
        Rhythm rhythm = Rhythm::of_retries(read_trace(trace->samples));
        if (rhythm.empty())
            return refused("the charger does not retry in this trace; give a --period", question.trace);
        return rhythm;
    }
    Rhythm rhythm = Rhythm::of_frames(frames);
    if (rhythm.empty())
        return refused(
            "the frames do not say when the supply was on; give a --period, a --trace, or frames with "
            "the supply off as --reference");
    return rhythm;
}

Result<HeatImage> rises_of(const HeatQuestion& question, Frames& looked, json& answer) {
    if (!question.reference.empty()) {
        const auto cold = read_all(question.reference);
        if (!cold)
            return cold.error();
        return rise_between(cold->frames, looked.frames);
    }
    for (std::size_t i = 0; i < looked.frames.size(); ++i) {
        if (question.frames_a_second > 0.0 && !looked.frames[i].t_s)
            looked.frames[i].t_s = static_cast<double>(i) / question.frames_a_second;
        if (!looked.frames[i].t_s)
            return refused("the frames do not say when they were taken; give --rate");
    }
    const auto rhythm = rhythm_of(question, looked.frames);
    if (!rhythm)
        return rhythm.error();
    const auto image = lock_in_over(looked.frames, *rhythm);
    if (!image)
        return image.error();
    answer["lock_in"] = {
        {"frames", image->frames}, {"cycles", image->cycles}, {"period_s", rhythm->period_s()}};
    return image->heat;
}

}  // namespace

std::vector<std::string*> files_of(HeatQuestion& question) {
    std::vector<std::string*> files{&question.board};
    for (auto* list : {&question.frames, &question.reference}) {
        for (std::string& file : *list)
            files.push_back(&file);
    }
    if (!question.trace.empty())
        files.push_back(&question.trace);
    return files;
}

Result<json> search_heat(const HeatQuestion& question) {
    const auto board = read_board(question.board);
    if (!board)
        return board.error();
    const BoardMap& map = board->map;
    HeatSearchOptions options;
    options.side = question.bottom ? BoardSide::bottom : BoardSide::top;
    options.marks_sigma_mm = question.marks_mm;
    if (!question.net.empty()) {
        options.net = map.find_net(question.net);
        if (options.net == no_index)
            return Error{ErrorKind::not_found, "there is no net “" + question.net + "” on this board",
                         question.board};
    }
    std::vector<MarkedPoint> marks;
    for (const std::string& text : question.marks) {
        const auto mark = read_mark(text);
        if (!mark)
            return mark.error();
        marks.push_back(*mark);
    }
    const auto view = PlaneMap::from_marks(marks);
    if (!view)
        return view.error();
    auto looked = read_all(question.frames);
    if (!looked)
        return looked.error();
    Frames frames = std::move(looked).value();
    json answer{{"remarks", frames.remarks}};
    const auto rises = rises_of(question, frames, answer);
    if (!rises)
        return rises.error();
    const auto found = eh::search_heat(map, *rises, *view, options);
    if (!found)
        return found.error();
    json spots = json::array();
    for (const HotSpot& spot : found->spots)
        spots.push_back({{"x_mm", spot.place.x_mm},
                         {"y_mm", spot.place.y_mm},
                         {"sigma_mm", spot.sigma_mm},
                         {"kelvin", spot.kelvin},
                         {"certainty", spot.certainty}});
    json candidates = json::array();
    for (const HeatCandidate& one : found->candidates)
        candidates.push_back({{"part", map.part(one.part).name},
                              {"probability", one.probability},
                              {"kelvin", one.kelvin},
                              {"on_net", one.on_net},
                              {"carries_current", one.carries_on}});
    answer["says"] = found->says;
    answer["can_tell"] = found->can_tell;
    answer["noise_kelvin"] = rises->noise_kelvin;
    answer["marks_misfit_mm"] = view->misfit_mm();
    answer["spots"] = std::move(spots);
    answer["candidates"] = std::move(candidates);
    answer["elsewhere"] = found->elsewhere;
    return answer;
}

json evaluate_heat_search(int boards, std::uint64_t seed) {
    HeatEvaluationOptions options;
    options.boards = boards;
    options.seed = seed;
    const HeatScore score = evaluate_heat(options);
    const double count = std::max(1, score.boards);
    return {{"boards", score.boards},
            {"right_first", score.right_first / count},
            {"right_in_two", score.right_in_two / count},
            {"cannot_tell", score.cannot_tell / count},
            {"sure", score.sure / count},
            {"sure_and_wrong", score.sure_and_wrong / count}};
}

json evaluate_verdicts(int rails, std::uint64_t seed) {
    const RailScore score = evaluate_rails(rails, seed);
    return {{"sound", score.sound},
            {"sound_called_short", score.sound_called_short},
            {"sound_called_low", score.sound_called_low},
            {"sound_not_known", score.sound_not_known},
            {"shorted", score.shorted},
            {"shorted_called_short", score.shorted_called_short},
            {"shorted_called_low", score.shorted_called_low},
            {"shorted_called_normal", score.shorted_called_normal}};
}

}  // namespace eh::cli
