// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json_reader.h"

#include <charconv>
#include <cmath>
#include "core/base/json_text.h"
#include "core/base/text.h"

namespace eh {

using nlohmann::json;

namespace {

// Line and column of a byte offset, for people who open the file in an editor.
std::string place_in(const std::string& text, std::size_t byte) {
    int line = 1;
    int column = 1;
    for (std::size_t i = 0; i + 1 < byte && i < text.size(); ++i) {
        if (text[i] == '\n') {
            ++line;
            column = 1;
        } else {
            ++column;
        }
    }
    return "line " + integer_text(line) + ", column " + integer_text(column);
}

}  // namespace

JsonReader JsonReader::parse(const std::string& text, const std::string& file, json& storage) {
    try {
        // What is no UTF-8 is UTF-16 or Latin-1: the file of an old editor is read, not refused.
        storage = json::parse(as_utf8(text));
    } catch (const json::parse_error& problem) {
        const bool cut = problem.byte >= text.size();
        throw JsonRefused{
            refused(cut ? "the file ends in the middle; it was cut off or not written completely"
                        : "this is not valid JSON from here on",
                    file + ", " + place_in(text, problem.byte))};
    } catch (const json::out_of_range&) {
        throw JsonRefused{refused("a number in this file is too large for any program; correct it", file)};
    }
    return {storage, file};
}

void JsonReader::refuse(const std::string& sentence) const {
    throw JsonRefused{refused(sentence, path_)};
}

bool JsonReader::has(const std::string& key) const {
    if (!value_->is_object())
        refuse("an object { … } is wanted here");
    return value_->contains(key);
}

JsonReader JsonReader::at(const std::string& key) const {
    if (!value_->is_object())
        refuse("an object { … } is wanted here");
    const auto found = value_->find(key);
    if (found == value_->end())
        refuse("the field “" + key + "” is missing");
    return {*found, path_ + ": " + key};
}

std::vector<JsonReader> JsonReader::items(const std::string& key) const {
    const JsonReader list = at(key);
    if (!list.raw().is_array())
        list.refuse("a list [ … ] is wanted here");
    std::vector<JsonReader> readers;
    for (std::size_t i = 0; i < list.raw().size(); ++i)
        readers.emplace_back(list.raw()[i], list.path() + "[" + integer_text(i) + "]");
    return readers;
}

std::vector<JsonReader> JsonReader::items_or_none(const std::string& key) const {
    return has(key) ? items(key) : std::vector<JsonReader>{};
}

std::vector<std::pair<std::string, JsonReader>> JsonReader::members() const {
    if (!value_->is_object())
        refuse("an object { … } is wanted here");
    std::vector<std::pair<std::string, JsonReader>> readers;
    for (auto it = value_->begin(); it != value_->end(); ++it)
        readers.emplace_back(it.key(), JsonReader(it.value(), path_ + ": " + it.key()));
    return readers;
}

std::string JsonReader::text() const {
    if (!value_->is_string())
        refuse("a text in quotes is wanted here");
    return value_->get<std::string>();
}

double JsonReader::number() const {
    if (!value_->is_number())
        refuse("a number is wanted here");
    const double value = value_->get<double>();
    if (!std::isfinite(value))
        refuse("a finite number is wanted here");
    return value;
}

bool JsonReader::boolean() const {
    if (!value_->is_boolean())
        refuse("true or false is wanted here");
    return value_->get<bool>();
}

std::string JsonReader::text(const std::string& key, const std::string& fallback) const {
    return has(key) ? at(key).text() : fallback;
}

double JsonReader::number(const std::string& key, double fallback) const {
    return has(key) ? at(key).number() : fallback;
}

std::int64_t JsonReader::integer(const std::string& key, std::int64_t fallback) const {
    if (!has(key))
        return fallback;
    const JsonReader field = at(key);
    if (!field.raw().is_number_integer())
        field.refuse("a whole number is wanted here");
    return field.raw().get<std::int64_t>();
}

double JsonReader::number_between(const std::string& key, double low, double high) const {
    const JsonReader field = at(key);
    const double value = field.number();
    if (value < low || value > high)
        field.refuse("the value must lie between " + json_text(json(low)) + " and " + json_text(json(high)));
    return value;
}

bool JsonReader::boolean(const std::string& key, bool fallback) const {
    return has(key) ? at(key).boolean() : fallback;
}

std::vector<std::string> JsonReader::texts(const std::string& key) const {
    std::vector<std::string> list;
    for (const JsonReader& item : items_or_none(key))
        list.push_back(item.text());
    return list;
}

void JsonReader::check_format(const std::string& name, int newest) const {
    const std::string format = text("format");
    const auto slash = format.rfind('/');
    if (slash == std::string::npos || format.substr(0, slash) != name)
        refuse("this is " + in_quotes(format) + ", not a file of the format “" + name + "”");
    int version = 0;
    const char* end = format.data() + format.size();
    const auto [rest, problem] = std::from_chars(format.data() + slash + 1, end, version);
    if (problem != std::errc() || rest != end || version < 1)
        refuse("the format " + in_quotes(format) + " has no version number");
    if (version > newest)
        throw JsonRefused{
            {ErrorKind::newer_version,
             "this file was written by a newer program (" + format + "); update this program to open it",
             path_}};
}

}  // namespace eh
