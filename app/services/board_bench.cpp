// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/board_bench.h"

#include <QDateTime>
#include <QDir>
#include <QSaveFile>
#include <algorithm>
#include <set>

#include "app/format/text.h"
#include "app/services/diagnosis_service.h"
#include "core/base/files.h"
#include "core/base/fingerprint.h"
#include "core/base/identifier.h"
#include "core/board/designator.h"
#include "core/board/machine_match.h"
#include "core/board/net_paths.h"
#include "core/entry/quick_line.h"
#include "core/machine/knowledge/machine_profile.h"
#include "instruments/bench_supply.h"

namespace eh {
namespace {

// As ohms are measured: nothing plugged in, nothing that feeds.
BenchConfiguration switched_off(const BenchConfiguration& bench) {
    BenchConfiguration off = bench;
    off.charger_connected = false;
    off.battery_in = false;
    off.injection.reset();
    return off;
}

ReadingKind reading_kind(NetQuantity quantity) {
    return quantity == NetQuantity::ohms ? ReadingKind::net_ohms : ReadingKind::diode;
}

}  // namespace

BoardBench::BoardBench(JobSession& session, DiagnosisService& diagnosis, const BenchSupply& supply,
                       const Knowledge& knowledge, QObject* parent)
    : QObject(parent), session_(session), diagnosis_(diagnosis), supply_(supply), knowledge_(knowledge) {
    connect(&session_, &JobSession::opened, this, &BoardBench::readingsChanged);
    connect(&session_, &JobSession::changed, this, &BoardBench::follow);
}

BoardBench::~BoardBench() {
    emit boardGoes();
}

const Topology* BoardBench::topology() const {
    return session_.hasJob() ? knowledge_.find_topology(session_.job().ticket.topology) : nullptr;
}

std::string BoardBench::job() const {
    return session_.hasJob() ? session_.job().id : std::string();
}

void BoardBench::open(BoardImport board) {
    emit boardGoes();
    net_ = part_ = no_index;
    board_ = std::move(board);
    load();
    emit boardChanged();
    emit picked();
}

void BoardBench::change(BoardImport board) {
    emit boardGoes();
    net_ = part_ = no_index;
    board_ = std::move(board);
    emit boardEdited();
    emit picked();
}

void BoardBench::close() {
    emit boardGoes();
    net_ = part_ = no_index;
    board_.reset();
    readings_ = {};
    emit boardChanged();
    emit picked();
}

void BoardBench::pick(int net, int part) {
    net_ = net;
    part_ = part;
    emit picked();
}

const Net* BoardBench::machineNet() const {
    const Topology* machine = topology();
    return machine == nullptr || !board_ || net_ == no_index ? nullptr
                                                             : machine_net(board_->map, net_, *machine);
}

const Block* BoardBench::machinePart(int part) const {
    const Topology* machine = topology();
    if (machine == nullptr || !board_ || part == no_index)
        return nullptr;
    const auto parts = machine_parts(board_->map, part, knowledge_, *machine);
    return parts.empty() ? nullptr : parts.front();
}

bool BoardBench::carriesOn(int part) const {
    const BoardMap& map = board_->map;
    if (carries_on(map, part))
        return true;
    if (designator_of(map.part(part).name) != "R" || !map.part(part).fitted || map.nets_of(part).size() != 2)
        return false;
    const Block* block = machinePart(part);
    if (block == nullptr || block->kind != "sense_resistor")
        return false;
    // Both of its nets are the model's resistor's, not just the one that others hang on too.
    const auto nets = map.nets_of(part);
    return std::all_of(nets.begin(), nets.end(), [&](int net) {
        const Net* known = machine_net(map, net, *topology());
        return known != nullptr && std::any_of(block->pins.begin(), block->pins.end(),
                                               [&](const auto& pin) { return pin.second == known->id; });
    });
}

std::optional<NetValue> BoardBench::readingInJob(const Net& net, NetQuantity quantity) const {
    const ReadingKind kind = reading_kind(quantity);
    const auto& readings = session_.job().readings;
    const auto found = std::find_if(readings.rbegin(), readings.rend(), [&](const Reading& reading) {
        return reading.kind() == kind && reading.place() == net.id && !reading.set_aside;
    });
    if (found == readings.rend())
        return std::nullopt;
    const std::optional<double>& number = *number_when_off(*found);
    NetValue value;
    value.value = number.value_or(0.0);
    value.open = !number;
    return value;
}

std::optional<NetValue> BoardBench::readingOf(int net, NetQuantity quantity) const {
    if (!board_ || net == no_index)
        return std::nullopt;
    const Topology* machine = topology();
    const Net* known = machine == nullptr ? nullptr : machine_net(board_->map, net, *machine);
    const BoardReading* kept = readings_.newest(board_->map.net(net).name, quantity, job());
    if (kept != nullptr)
        return kept->value;
    return known == nullptr ? std::nullopt : readingInJob(*known, quantity);
}

std::optional<NetValue> BoardBench::reading(NetQuantity quantity) const {
    return readingOf(net_, quantity);
}

QString BoardBench::conflict(NetQuantity quantity) const {
    if (!session_.hasJob())
        return {};
    const ReadingKind kind = reading_kind(quantity);
    return format::qt(bench_conflict(kind, session_.job().bench));
}

void BoardBench::take(NetQuantity quantity, const NetValue& value) {
    if (!board_ || net_ == no_index)
        return;
    BoardReading kept;
    kept.net = board_->map.net(net_).name;
    kept.quantity = quantity;
    kept.value = value;
    kept.job = job();
    kept.taken_ms = QDateTime::currentMSecsSinceEpoch();
    if (const Net* known = machineNet()) {
        Reading reading;
        reading.configuration = switched_off(session_.job().bench);
        reading.value = blank_value(reading_kind(quantity), known->id);
        *number_when_off(reading) = without_leads(value);
        reading.source = "typed";
        kept.reading = session_.addReading(reading);
    }
    readings_.add(kept);
    save();
    emit readingsChanged();
}

void BoardBench::follow() {
    std::set<std::string> readings;
    if (session_.hasJob()) {
        for (const Reading& reading : session_.job().readings)
            readings.insert(reading.id);
    }
    if (session_.hasJob() && readings_.follow(job(), readings))
        save();
    emit readingsChanged();
}

QString BoardBench::takeRemoved(int part, const NetValue& value) {
    const Net* known = machineNet();
    const Block* block = machinePart(part);
    if (known == nullptr || block == nullptr)
        return tr(
            "The model of this machine does not know both net and part: the suspects stay as they are.");
    // One capacitor in the model stands for all of the rail's: with one of them off it is not off.
    const auto& on_net = board_->map.parts_on(net_);
    const auto alike = std::count_if(on_net.begin(), on_net.end(), [&](int other) {
        return board_->map.part(other).fitted && machinePart(other) == block;
    });
    if (alike > 1)
        return tr("The model has one part for the %1 like it on this net: the suspects stay as they are.")
            .arg(alike);
    Reading reading;
    reading.configuration = switched_off(session_.job().bench);
    auto& removed = reading.configuration.removed;
    removed.insert(std::upper_bound(removed.begin(), removed.end(), block->id), block->id);
    removed.erase(std::unique(removed.begin(), removed.end()), removed.end());
    reading.value = NetOhmsReading{known->id, without_leads(value)};
    reading.source = "typed";
    session_.addReading(reading);
    return tr("Taken as a reading with %1 off.").arg(format::qt(block->title));
}

void BoardBench::setSound(NetQuantity quantity, bool sound) {
    if (!board_ || net_ == no_index)
        return;
    const std::string& name = board_->map.net(net_).name;
    // A reading that stands in the job alone is kept here with its judgement.
    if (readings_.newest(name, quantity, job()) == nullptr) {
        const auto value = reading(quantity);
        if (!value)
            return;
        BoardReading kept{name, quantity, *value, false, job(), QDateTime::currentMSecsSinceEpoch(), {}};
        readings_.add(kept);
    }
    readings_.set_sound(name, quantity, job(), sound);
    save();
    emit readingsChanged();
}

bool BoardBench::isSound(NetQuantity quantity) const {
    if (!board_ || net_ == no_index)
        return false;
    const BoardReading* kept = readings_.newest(board_->map.net(net_).name, quantity, job());
    return kept != nullptr && kept->sound;
}

std::optional<NetEvidence> BoardBench::modelEvidence(NetQuantity quantity) const {
    const Net* known = machineNet();
    if (known == nullptr)
        return std::nullopt;
    const auto engine = diagnosis_.engineFor(session_.job().ticket.topology);
    if (!engine)
        return std::nullopt;
    const auto& store = engine->reasoner.store();
    const Topology& machine = engine->plan.topology();
    const auto index = static_cast<std::size_t>(machine.find_net(known->id) - machine.nets.data());
    BenchConfiguration off;
    off.charger_connected = false;
    off.battery_in = false;
    off.port = session_.job().bench.port;
    std::vector<double> samples;
    if (quantity == NetQuantity::ohms) {
        store->simulate_ohms({PredictionStore::sound}, off);
        if (const auto ohms = store->ohms(PredictionStore::sound, off))
            samples = (*ohms)[index];
    } else {
        const OffQuestion drop{OffQuestion::Of::diode_drop, static_cast<int>(index)};
        store->simulate_numbers({PredictionStore::sound}, off, drop);
        if (const auto drops = store->numbers(PredictionStore::sound, off, drop))
            samples = *drops;
    }
    return model_evidence(quantity, samples);
}

std::vector<NetEvidence> BoardBench::evidence(NetQuantity quantity) const {
    std::vector<NetEvidence> known;
    if (!board_ || net_ == no_index)
        return known;
    const BoardMap& map = board_->map;
    for (const int twin : twins_of(map, net_))
        if (const auto value = readingOf(twin, quantity))
            known.push_back(twin_evidence(
                quantity, *value, tr("twin net %1").arg(format::qt(map.net(twin).name)).toStdString()));
    if (const auto own = own_evidence(quantity, readings_.sound_boards(map.net(net_).name, quantity, job())))
        known.push_back(*own);
    if (const auto model = modelEvidence(quantity))
        known.push_back(*model);
    return known;
}

QString BoardBench::takeFound(int part, double certainty, std::optional<double> rise_kelvin,
                              std::optional<Fed> fed, const QString& how) {
    const QString name = format::qt(board_->map.part(part).name);
    const Block* block = machinePart(part);
    if (block == nullptr)
        return tr("%1 is found. The model of this machine has no such part, so the suspects stay as they "
                  "are.")
            .arg(name);
    const BenchConfiguration& bench = session_.job().bench;
    const Net* net = machineNet();
    if (!fed && supply_.output() == BenchSupply::Output::on && supply_.volts() && supply_.amps())
        fed = Fed{*supply_.volts(), *supply_.amps()};
    const bool injected = fed && net != nullptr;
    if (!injected && !bench.charger_connected && !bench.battery_in)
        return tr(
            "Nothing feeds the machine, says the strip: set it as it was, or pick the net that the supply "
            "feeds.");
    const HotPartReading hottest{block->id, rise_kelvin, std::clamp(certainty, 0.01, 1.0)};
    Reading reading;
    if (injected) {
        InjectionReading seen;
        seen.supply.volts = fed->volts;
        seen.supply.amps = fed->amps;
        seen.hottest = hottest;
        reading.value = seen;
        reading.configuration = switched_off(bench);
        reading.configuration.injection =
            Injection{net->id, std::min(net->volts, std::max(1.0, fed->volts)), fed->amps};
    } else {
        reading.value = hottest;
        reading.configuration = bench;
    }
    reading.source = "board";
    reading.note = tr("%1, %2").arg(name, how).toStdString();
    session_.addReading(reading);
    return tr("%1 is taken as a reading of %2.").arg(name, format::qt(block->title));
}

QString BoardBench::file() const {
    if (folder_.isEmpty() || !board_)
        return {};
    // A title without a letter of ASCII has no id; its fingerprint names the file.
    const std::string& title = board_->map.title;
    const std::string id = id_from_title(title);
    const std::string name = fits_identifier(id) ? id : "board-" + fingerprint(title);
    return format::qt(inside(folder_.toStdString(), FileName::made(name), ".readings.json").string());
}

void BoardBench::load() {
    readings_ = {};
    readings_.board = board_->map.title;
    const QString path = file();
    if (path.isEmpty() || !QFile::exists(path))
        return;
    const auto text = read_text_file(path.toStdString());
    auto read = text ? parse_board_readings(*text, path.toStdString()) : Result<BoardReadings>(text.error());
    if (read)
        readings_ = std::move(read).value();
    else
        emit trouble(format::qt(read.error().text()));
}

void BoardBench::save() {
    const QString path = file();
    if (path.isEmpty())
        return;
    QDir().mkpath(folder_);
    QSaveFile out(path);
    const QByteArray text = QByteArray::fromStdString(write_board_readings(readings_));
    if (!out.open(QIODevice::WriteOnly) || out.write(text) != text.size() || !out.commit())
        emit trouble(tr("The readings of this board cannot be kept in %1: %2").arg(path, out.errorString()));
}

}  // namespace eh
