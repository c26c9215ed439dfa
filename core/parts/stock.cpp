// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/stock.h"

#include <algorithm>
#include <array>
#include <map>
#include <set>

#include "core/base/json_fields.h"
#include "core/base/json_text.h"
#include "core/base/text.h"

namespace eh {
namespace {

using nlohmann::json;

constexpr std::array<const char*, part_kind_count> kind_names{"resistor",  "capacitor", "receptacle", "jack",
                                                              "regulator", "chip",      "other"};
constexpr double ms_a_day = 86400e3;
constexpr double most_parts_of_a_kind = 1e7;
constexpr double longest_lead_days = 1000.0;

std::optional<double> number_in(const JsonReader& item, const char* key, double most) {
    if (!item.has(key))
        return std::nullopt;
    return item.number_between(key, 0.0, most);
}

StockPart read_part(const JsonReader& item) {
    StockPart part;
    part.id = item.text("id");
    const auto kind = part_kind_from(item.text("kind"));
    if (!kind)
        item.at("kind").refuse("“" + item.text("kind") +
                               "” is no kind of part; write resistor, capacitor, "
                               "receptacle, jack, regulator, chip or other");
    part.kind = *kind;
    part.name = item.text("name");
    part.package = item.text("package", "");
    part.value = number_in(item, "value", 1e12);
    part.tolerance = number_in(item, "tolerance", 1.0);
    part.volts = number_in(item, "volts", 1e4);
    part.amps = number_in(item, "amps", 1e3);
    part.out_volts = number_in(item, "out_volts", 1e3);
    part.dielectric = item.text("dielectric", "");
    part.footprint = item.text("footprint", "");
    part.pinout = item.text("pinout", "");
    part.place = item.text("place", "");
    part.count = static_cast<int>(item.number_between("count", 0.0, most_parts_of_a_kind));
    part.from_board = item.text("from_board", "");
    part.from_position = item.text("from_position", "");
    part.note = item.text("note", "");
    return part;
}

json written(const StockPart& part) {
    json j{{"id", part.id}, {"kind", to_text(part.kind)}, {"name", part.name}, {"count", part.count}};
    put_if(j, "package", part.package);
    put_if(j, "value", part.value);
    put_if(j, "tolerance", part.tolerance);
    put_if(j, "volts", part.volts);
    put_if(j, "amps", part.amps);
    put_if(j, "out_volts", part.out_volts);
    put_if(j, "dielectric", part.dielectric);
    put_if(j, "footprint", part.footprint);
    put_if(j, "pinout", part.pinout);
    put_if(j, "place", part.place);
    put_if(j, "from_board", part.from_board);
    put_if(j, "from_position", part.from_position);
    put_if(j, "note", part.note);
    return j;
}

PartOrder read_order(const JsonReader& item) {
    PartOrder order;
    order.id = item.text("id");
    order.what = item.text("what");
    order.count = static_cast<int>(item.number_between("count", 1.0, most_parts_of_a_kind));
    order.from = item.text("from", "");
    order.ordered_ms = static_cast<std::int64_t>(item.number("ordered_ms"));
    order.lead_days = item.number_between("lead_days", 0.0, longest_lead_days);
    order.job = item.text("job", "");
    order.arrived = item.boolean("arrived", false);
    return order;
}

}  // namespace

std::string to_text(PartKind kind) {
    return kind_names[static_cast<std::size_t>(kind)];
}

std::optional<PartKind> part_kind_from(const std::string& text) {
    const auto found = std::find(kind_names.begin(), kind_names.end(), text);
    if (found == kind_names.end())
        return std::nullopt;
    return static_cast<PartKind>(found - kind_names.begin());
}

const StockPart* Stock::find(const std::string& id) const {
    const auto found =
        std::find_if(parts.begin(), parts.end(), [&](const StockPart& part) { return part.id == id; });
    return found == parts.end() ? nullptr : &*found;
}

Result<Stock> parse_stock(const std::string& text, const std::string& file) {
    return read_json<Stock>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.stock", 1);
        Stock stock;
        std::set<std::string> ids;
        const auto once = [&](const JsonReader& item, const std::string& id) {
            if (!ids.insert(id).second)
                item.refuse("the id “" + id + "” stands twice; choose another");
        };
        for (const JsonReader& item : root.items_or_none("parts")) {
            stock.parts.push_back(read_part(item));
            once(item, stock.parts.back().id);
        }
        for (const JsonReader& item : root.items_or_none("donors")) {
            stock.donors.push_back(
                {item.text("id"), item.text("title"), item.text("place", ""), item.texts("taken")});
            once(item, stock.donors.back().id);
        }
        for (const JsonReader& item : root.items_or_none("orders")) {
            stock.orders.push_back(read_order(item));
            once(item, stock.orders.back().id);
        }
        return stock;
    });
}

std::string write_stock(const Stock& stock) {
    json parts = json::array();
    for (const StockPart& part : stock.parts)
        parts.push_back(written(part));
    json donors = json::array();
    for (const DonorBoard& donor : stock.donors) {
        json j{{"id", donor.id}, {"title", donor.title}};
        put_if(j, "place", donor.place);
        if (!donor.taken.empty())
            j["taken"] = donor.taken;
        donors.push_back(std::move(j));
    }
    json orders = json::array();
    for (const PartOrder& order : stock.orders) {
        json j{{"id", order.id},
               {"what", order.what},
               {"count", order.count},
               {"ordered_ms", order.ordered_ms},
               {"lead_days", order.lead_days}};
        put_if(j, "from", order.from);
        put_if(j, "job", order.job);
        if (order.arrived)
            j["arrived"] = true;
        orders.push_back(std::move(j));
    }
    return json_text({{"format", "eager-hound.stock/1"},
                      {"parts", std::move(parts)},
                      {"donors", std::move(donors)},
                      {"orders", std::move(orders)}},
                     1) +
           "\n";
}

std::vector<ParkedJob> parked_jobs(const Stock& stock, std::int64_t now_ms) {
    std::map<std::string, ParkedJob> by_job;
    for (const PartOrder& order : stock.orders) {
        if (order.arrived || order.job.empty())
            continue;
        const std::int64_t expected =
            order.ordered_ms + static_cast<std::int64_t>(order.lead_days * ms_a_day);
        const StockPart* part = stock.find(order.what);
        ParkedJob& parked = by_job[order.job];
        if (parked.job.empty() || expected > parked.expected_ms)
            parked = {order.job, part == nullptr ? order.what : part->name, expected, expected < now_ms};
    }
    std::vector<ParkedJob> list;
    list.reserve(by_job.size());
    for (const auto& [job, parked] : by_job)
        list.push_back(parked);
    std::stable_sort(list.begin(), list.end(),
                     [](const ParkedJob& a, const ParkedJob& b) { return a.expected_ms < b.expected_ms; });
    return list;
}

std::string fresh_stock_id(const Stock& stock, const std::string& prefix) {
    std::set<std::string> ids;
    for (const auto& part : stock.parts)
        ids.insert(part.id);
    for (const auto& donor : stock.donors)
        ids.insert(donor.id);
    for (const auto& order : stock.orders)
        ids.insert(order.id);
    int number = 1;
    while (ids.count(prefix + integer_text(number)) != 0)
        ++number;
    return prefix + integer_text(number);
}

}  // namespace eh
