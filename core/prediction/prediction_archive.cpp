// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/prediction_archive.h"

#include <algorithm>
#include <utility>

#include "core/base/bytes.h"

namespace eh {
namespace {

constexpr std::size_t most_faults = 2;

void write_configuration(ByteWriter& out, const BenchConfiguration& configuration) {
    out.number(configuration.charger_connected);
    out.number(configuration.charger);
    out.number(configuration.lead);
    out.text(configuration.port);
    out.number(configuration.side);
    out.number(configuration.plug_held);
    out.number(configuration.tester);
    out.number(configuration.bare_plug);
    out.number(configuration.button);
    out.number(configuration.battery_in);
    out.number(configuration.second_instruments);
    out.count(configuration.lent.size());
    for (const std::string& block : configuration.lent)
        out.text(block);
}

BenchConfiguration read_configuration(ByteReader& in) {
    BenchConfiguration configuration;
    configuration.charger_connected = in.number<bool>();
    configuration.charger = in.number<Owner>();
    configuration.lead = in.number<Owner>();
    configuration.port = in.text();
    configuration.side = in.number<PlugSide>();
    configuration.plug_held = in.number<bool>();
    configuration.tester = in.number<Tester>();
    configuration.bare_plug = in.number<bool>();
    configuration.button = in.number<Button>();
    configuration.battery_in = in.number<bool>();
    configuration.second_instruments = in.number<bool>();
    configuration.lent.resize(in.count());
    for (std::string& block : configuration.lent)
        block = in.text();
    return configuration;
}

// What stands otherwise than the file can say would come back as another configuration: it is not kept.
bool is_archived(const BenchConfiguration& configuration) {
    ByteWriter out;
    write_configuration(out, configuration);
    ByteReader in(out.bytes());
    return read_configuration(in) == configuration;
}

void write_view(ByteWriter& out, const PoweredView& view) {
    out.number(view.meter);
    out.numbers(view.net_volts);
    out.numbers(view.net_ohms);
    out.numbers(view.rise_kelvin);
    out.number(view.first_shunt_watts);
    out.number(view.firmware);
    out.number(view.called_slow);
    out.number(view.asks_for_service);
    out.number(view.called_on_battery);
    out.number(view.trend);
    out.number(view.signs);
    out.number(view.talk);
    out.number(view.battery_percent);
    out.number(view.adapter_watts);
    out.number(view.pack_health);
    out.number(view.pack_health_width);
    out.number(view.drop_probability);
    out.number(view.source_strained);
    out.number(view.sag);
    out.number(view.valid);
}

PoweredView read_view(ByteReader& in) {
    PoweredView view;
    view.meter = in.number<MeterSummary>();
    view.net_volts = in.numbers<std::vector<float>>();
    view.net_ohms = in.numbers<std::vector<float>>();
    view.rise_kelvin = in.numbers<std::vector<float>>();
    view.first_shunt_watts = in.number<float>();
    view.firmware = in.number<FirmwareMessage>();
    view.called_slow = in.number<float>();
    view.asks_for_service = in.number<float>();
    view.called_on_battery = in.number<float>();
    view.trend = in.number<std::optional<ChargeTrend>>();
    view.signs = in.number<SignShares>();
    view.talk = in.number<NegotiationEnd>();
    view.battery_percent = in.number<MachineModel::Percent>();
    view.adapter_watts = in.number<float>();
    view.pack_health = in.number<float>();
    view.pack_health_width = in.number<float>();
    view.drop_probability = in.number<double>();
    view.source_strained = in.number<bool>();
    view.sag = in.number<float>();
    view.valid = in.number<bool>();
    return view;
}

// A sample that repeats the one before it takes no room.
void write(ByteWriter& out, const Views& views) {
    out.count(views.size());
    for (const PoweredView& view : views) {
        out.number(view.repeats);
        if (!view.repeats)
            write_view(out, view);
    }
}

void read(ByteReader& in, Views& views) {
    const std::size_t samples = in.count();
    for (std::size_t s = 0; s < samples && in.ok(); ++s) {
        const bool repeats = in.number<bool>() && !views.empty();
        views.push_back(repeats ? views.back() : read_view(in));
        views.back().repeats = repeats;
    }
}

void write(ByteWriter& out, const NetOhms& by_net) {
    out.count(by_net.size());
    for (const Numbers& ohms : by_net)
        out.numbers(ohms);
}

void read(ByteReader& in, NetOhms& by_net) {
    by_net.resize(in.count());
    for (Numbers& ohms : by_net)
        ohms = in.numbers<Numbers>();
}

void write(ByteWriter& out, const Numbers& numbers) {
    out.numbers(numbers);
}

void read(ByteReader& in, Numbers& numbers) {
    numbers = in.numbers<Numbers>();
}

// Whether what was read of one machine has the shape that the plan and the options ask for.
struct Shape {
    std::size_t samples = 0;
    std::size_t nets = 0;
    std::size_t blocks = 0;

    [[nodiscard]] bool fits(const Views& views) const {
        return views.size() == samples && std::all_of(views.begin(), views.end(), [&](const auto& view) {
                   return view.net_volts.size() == nets && view.net_ohms.size() == nets &&
                          view.rise_kelvin.size() == blocks;
               });
    }
    [[nodiscard]] bool fits(const NetOhms& by_net) const {
        return by_net.size() == nets &&
               std::all_of(by_net.begin(), by_net.end(), [&](const auto& ohms) { return fits(ohms); });
    }
    [[nodiscard]] bool fits(const Numbers& numbers) const { return numbers.size() == samples; }
};

// A question of another machine is never asked, so it only has to be one at all.
bool can_be_asked(const OffQuestion& question, const Shape& shape) {
    const auto most = static_cast<int>(std::max(shape.nets, shape.blocks));
    return question.of >= OffQuestion::Of::diode_drop && question.of <= OffQuestion::Of::pack_volts &&
           question.first < most && question.second < most;
}

template <typename Shelf>
void write_shelf(ByteWriter& out, const Shelf& shelf, const std::vector<bool>& archived) {
    std::size_t places = 0;
    for (const auto& [configuration, kept] : shelf)
        places += is_archived(configuration) ? 1 : 0;
    out.count(places);
    for (const auto& [configuration, kept] : shelf) {
        if (!is_archived(configuration))
            continue;
        write_configuration(out, configuration);
        out.count(static_cast<std::size_t>(std::count_if(
            kept.begin(), kept.end(), [&](const auto& entry) { return archived[entry.first]; })));
        for (const auto& [machine, what] : kept) {
            if (!archived[machine])
                continue;
            out.count(machine);
            write(out, *what);
        }
    }
}

// False when it does not fit. `numbers` are the machines by the numbers they were written with.
template <typename Kept, typename Shelf>
bool read_shelf(ByteReader& in, Shelf& shelf, const std::vector<std::size_t>& numbers, const Shape& shape) {
    const std::size_t places = in.count();
    for (std::size_t place = 0; place < places && in.ok(); ++place) {
        auto& kept = shelf[read_configuration(in)];
        const std::size_t machines = in.count();
        for (std::size_t m = 0; m < machines && in.ok(); ++m) {
            const auto written = std::size_t{in.number<std::uint32_t>()};
            auto what = std::make_shared<Kept>();
            read(in, *what);
            if (written >= numbers.size() || !shape.fits(*what))
                return false;
            kept.emplace(numbers[written], std::move(what));
        }
    }
    return in.ok();
}

template <typename Shelf>
void merge(Shelf& into, Shelf&& from) {
    for (auto& [configuration, kept] : from)
        into[configuration].merge(kept);
}

}  // namespace

std::string PredictionArchive::write(const PredictionStore& store) {
    const std::lock_guard lock(store.mutex_);
    ByteWriter out;
    std::vector<bool> archived;
    out.count(store.machines_.size());
    for (const auto& machine : store.machines_) {
        const bool plain =
            machine.faults.size() <= most_faults && machine.depth == Depth::few_designs &&
            std::none_of(machine.faults.begin(), machine.faults.end(), [](const FaultInstance& fault) {
                return fault.ohms || fault.knee_volts || fault.severity;
            });
        archived.push_back(plain);
        out.number(plain);
        if (!plain)
            continue;
        out.count(machine.faults.size());
        for (std::size_t f = 0; f < machine.faults.size(); ++f) {
            out.text(machine.faults[f].fault);
            out.text(machine.faults[f].block);
            out.number(machine.streams[f]);
        }
        out.numbers(machine.weights);
    }
    write_shelf(out, store.views_, archived);
    write_shelf(out, store.ohms_, archived);
    out.count(store.numbers_when_off_.size());
    for (const auto& [question, shelf] : store.numbers_when_off_) {
        out.number(question);
        write_shelf(out, shelf, archived);
    }
    return out.bytes();
}

Outcome PredictionArchive::read(std::string_view bytes, PredictionStore& store) {
    const Error unusable =
        refused("the predictions kept on disk are damaged or of another machine; they are worked out anew");
    ByteReader in(bytes);
    const MachinePlan& plan = store.plan();
    const Shape shape{static_cast<std::size_t>(store.options().samples), plan.net_nodes.size(),
                      plan.topology().blocks.size()};
    std::vector<PredictionStore::Machine> machines(in.count());
    std::vector<bool> archived;
    for (auto& machine : machines) {
        archived.push_back(in.number<bool>());
        if (!archived.back())
            continue;
        machine.faults.resize(in.count());
        for (FaultInstance& fault : machine.faults) {
            fault.fault = in.text();
            fault.block = in.text();
            machine.streams.push_back(in.number<int>());
            if (plan.find_block(fault.block) < 0 || plan.knowledge().catalogue.find(fault.fault) == nullptr)
                return unusable;
        }
        machine.weights = in.numbers<std::vector<double>>();
        if (!shape.fits(machine.weights))
            return unusable;
    }
    const std::lock_guard lock(store.mutex_);
    std::vector<std::size_t> numbers;
    const std::size_t known = store.machines_.size();
    const auto forget = [&] {
        while (store.machines_.size() > known) {
            store.numbers_.erase(PredictionStore::name_of(store.machines_.back()));
            store.machines_.pop_back();
        }
    };
    for (std::size_t m = 0; m < machines.size(); ++m) {
        numbers.push_back(archived[m] ? store.number_of(std::move(machines[m])) : PredictionStore::sound);
    }
    decltype(store.views_) views;
    decltype(store.ohms_) ohms;
    decltype(store.numbers_when_off_) when_off;
    bool fits = read_shelf<Views>(in, views, numbers, shape) && read_shelf<NetOhms>(in, ohms, numbers, shape);
    const std::size_t questions = fits ? in.count() : 0;
    for (std::size_t q = 0; q < questions && fits; ++q) {
        const auto question = in.number<OffQuestion>();
        fits = can_be_asked(question, shape) && read_shelf<Numbers>(in, when_off[question], numbers, shape);
    }
    if (!fits || !in.ok() || !in.at_end()) {
        forget();
        return unusable;
    }
    merge(store.views_, std::move(views));
    merge(store.ohms_, std::move(ohms));
    for (auto& [question, shelf] : when_off)
        merge(store.numbers_when_off_[question], std::move(shelf));
    return Done{};
}

}  // namespace eh
