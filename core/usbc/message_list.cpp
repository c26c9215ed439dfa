// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/message_list.h"

#include <array>
#include <charconv>

#include "core/base/json_reader.h"
#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/usbc/pd_text.h"

namespace eh::pd {
namespace {

constexpr int newest_format = 1;
constexpr const char* format_name = "eager-hound.messages";
constexpr std::array addresses{Address::sop, Address::sop_prime, Address::sop_double_prime,
                               Address::sop_prime_debug, Address::sop_double_prime_debug};

std::string hex_of(const std::vector<std::uint8_t>& bytes) {
    constexpr const char* digits = "0123456789abcdef";
    std::string text;
    for (const std::uint8_t byte : bytes) {
        text += digits[byte >> 4U];
        text += digits[byte & 0xFU];
    }
    return text;
}

std::vector<std::uint8_t> bytes_in(const JsonReader& field) {
    const std::string text = field.text();
    std::vector<std::uint8_t> bytes;
    for (std::size_t i = 0; i + 2 <= text.size(); i += 2) {
        std::uint8_t byte = 0;
        const char* end = text.data() + i + 2;
        const auto [rest, problem] = std::from_chars(text.data() + i, end, byte, 16);
        if (problem != std::errc() || rest != end)
            break;
        bytes.push_back(byte);
    }
    constexpr std::size_t longest_message = 262;
    if (bytes.size() * 2 != text.size() || bytes.size() < 2 || bytes.size() > longest_message)
        field.refuse("a message is 2 to 262 bytes in pairs of hex digits, header first");
    return bytes;
}

SeenFrame read_frame(const JsonReader& item) {
    SeenFrame seen;
    Frame& frame = seen.frame;
    constexpr double longest_s = 1e6;
    frame.start_s = item.number_between("t_s", 0.0, longest_s);
    frame.end_s = frame.start_s;
    seen.line = static_cast<int>(item.has("line") ? item.number_between("line", 1.0, 2.0) : 1.0);
    frame.damage.bad_checksum = item.boolean("damaged", false);
    if (item.has("reset")) {
        const std::string reset = item.text("reset");
        if (reset != "hard" && reset != "cable")
            item.at("reset").refuse("a reset is hard or cable");
        frame.kind = reset == "hard" ? FrameKind::hard_reset : FrameKind::cable_reset;
        return seen;
    }
    const std::string to = item.text("to", "SOP");
    for (const Address address : addresses) {
        if (name_of(address) != to)
            continue;
        frame.kind = FrameKind::message;
        frame.message = *message_from(address, bytes_in(item.at("hex")));
        frame.damage.wrong_length = !length_agrees(frame.message);
        frame.end_s += static_cast<double>(line_bits(frame.message).size()) * nominal_bit_s;
        return seen;
    }
    item.refuse("a message goes to SOP, SOP', SOP'', SOP'_Debug or SOP''_Debug");
}

}  // namespace

std::string write_messages(const std::vector<SeenFrame>& frames) {
    nlohmann::json list = nlohmann::json::array();
    for (const SeenFrame& seen : frames) {
        nlohmann::json item{{"t_s", seen.frame.start_s}, {"line", seen.line}};
        if (seen.frame.kind == FrameKind::hard_reset)
            item["reset"] = "hard";
        else if (seen.frame.kind == FrameKind::cable_reset)
            item["reset"] = "cable";
        else if (seen.frame.kind == FrameKind::message) {
            item["to"] = name_of(seen.frame.message.address);
            item["hex"] = hex_of(bytes_of(seen.frame.message));
        } else {
            continue;  // nothing of it is known
        }
        if (!seen.frame.good())
            item["damaged"] = true;
        list.push_back(std::move(item));
    }
    const nlohmann::json root{{"format", std::string(format_name) + "/" + integer_text(newest_format)},
                              {"messages", std::move(list)}};
    return json_text(root, 1) + "\n";
}

Result<std::vector<SeenFrame>> parse_messages(const std::string& text, const std::string& file) {
    return read_json<std::vector<SeenFrame>>(text, file, [](const JsonReader& root) {
        root.check_format(format_name, newest_format);
        std::vector<SeenFrame> frames;
        for (const JsonReader& item : root.items("messages")) {
            frames.push_back(read_frame(item));
            if (frames.size() > 1 && frames.back().frame.start_s < frames[frames.size() - 2].frame.start_s)
                item.at("t_s").refuse("messages stand in the order of time");
        }
        return frames;
    });
}

}  // namespace eh::pd
