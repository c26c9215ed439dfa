// SPDX-License-Identifier: GPL-3.0-or-later
// Whole numbers that a shop keeps under names.
#include "store/sql_store.h"
#include "store/sql_values.h"

namespace eh {
namespace {

const std::string mark_prefix = "mark ";

}  // namespace

Outcome SqlStore::set_mark(const std::string& name, std::int64_t value) {
    return run(
        "INSERT INTO shop_marks (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET "
        "value = excluded.value",
        {sql_text(mark_prefix + name), sql_number(value)}, "Keeping a mark");
}

Result<std::optional<std::int64_t>> SqlStore::mark(const std::string& name) {
    std::optional<std::int64_t> value;
    const Outcome read =
        each_row("SELECT value FROM shop_marks WHERE name = ?", {sql_text(mark_prefix + name)},
                 "Reading a mark", [&](const QSqlQuery& row) -> Outcome {
                     value = row.value(0).toLongLong();
                     return Done{};
                 });
    if (!read)
        return read.error();
    return value;
}

Outcome SqlStore::remove_mark(const std::string& name) {
    return run("DELETE FROM shop_marks WHERE name = ?", {sql_text(mark_prefix + name)}, "Removing a mark");
}

Result<std::vector<std::string>> SqlStore::marks_after(const std::string& prefix) {
    const std::string whole = mark_prefix + prefix;
    std::vector<std::string> rest;
    const Outcome read = each_row("SELECT name FROM shop_marks ORDER BY name", {}, "Reading marks",
                                  [&](const QSqlQuery& row) -> Outcome {
                                      const std::string name = row.value(0).toString().toStdString();
                                      if (name.starts_with(whole))
                                          rest.push_back(name.substr(whole.size()));
                                      return Done{};
                                  });
    if (!read)
        return read.error();
    return rest;
}

}  // namespace eh
