// SPDX-License-Identifier: GPL-3.0-or-later
// Reading JSON with errors that name the file and the field.
//
// Internal to core: a JsonReader throws JsonRefused; read_json() catches it at the border and makes an Error
// of it.
#pragma once

#include <cstdint>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/base/identifier.h"
#include "core/base/result.h"

namespace eh {

struct JsonRefused {
    Error error;
};

class JsonReader {
  public:
    // Parses a whole text. Throws JsonRefused naming line and column when it is not JSON.
    static JsonReader parse(const std::string& text, const std::string& file, nlohmann::json& storage);

    JsonReader(const nlohmann::json& value, std::string path) : value_(&value), path_(std::move(path)) {}

    // Refuses what is no object: a text where an object is due is a mistake, not an object without members.
    [[nodiscard]] bool has(const std::string& key) const;
    [[nodiscard]] JsonReader at(const std::string& key) const;                  // required member
    [[nodiscard]] std::vector<JsonReader> items(const std::string& key) const;  // required array
    [[nodiscard]] std::vector<JsonReader> items_or_none(const std::string& key) const;
    [[nodiscard]] std::vector<std::pair<std::string, JsonReader>> members() const;

    [[nodiscard]] std::string text() const;
    [[nodiscard]] double number() const;
    [[nodiscard]] bool boolean() const;
    [[nodiscard]] std::string text(const std::string& key) const { return at(key).text(); }
    [[nodiscard]] std::string text(const std::string& key, const std::string& fallback) const;
    [[nodiscard]] double number(const std::string& key) const { return at(key).number(); }
    [[nodiscard]] double number(const std::string& key, double fallback) const;
    // Refuses what is not whole.
    [[nodiscard]] std::int64_t integer(const std::string& key, std::int64_t fallback) const;
    [[nodiscard]] double number_between(const std::string& key, double low, double high) const;
    [[nodiscard]] bool boolean(const std::string& key, bool fallback) const;
    [[nodiscard]] std::vector<std::string> texts(const std::string& key) const;  // empty when absent

    // A required member that is an id: see core/base/identifier.h.
    template <typename Id>
    [[nodiscard]] Id identifier(const std::string& key) const {
        const JsonReader field = at(key);
        auto id = Id::from(field.text(), field.path());
        if (!id)
            throw JsonRefused{id.error()};
        return std::move(id).value();
    }

    [[nodiscard]] const nlohmann::json& raw() const { return *value_; }
    [[nodiscard]] const std::string& path() const { return path_; }
    [[noreturn]] void refuse(const std::string& sentence) const;
    // Requires the "format" member to be `name`/N with N <= newest.
    void check_format(const std::string& name, int newest) const;

  private:
    const nlohmann::json* value_;
    std::string path_;
};

// Parses `text` and hands it to `read`, a function from JsonReader to T; refusals become the Error of the
// result.
template <typename T, typename Read>
Result<T> read_json(const std::string& text, const std::string& file, Read read) {
    nlohmann::json storage;
    try {
        return read(JsonReader::parse(text, file, storage));
    } catch (const JsonRefused& refusal) {
        return refusal.error;
    } catch (const nlohmann::json::exception& problem) {
        return refused(std::string("the content has an unexpected shape (") + problem.what() + ")", file);
    }
}

}  // namespace eh
