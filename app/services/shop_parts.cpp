// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/shop_parts.h"

#include <QDir>
#include <QSaveFile>
#include <QUndoCommand>

#include "core/base/files.h"

namespace eh {

namespace {

constexpr int save_after_ms = 250;
constexpr int try_again_ms = 3000;

template <typename T>
std::shared_ptr<const T> kept(T value) {
    return std::make_shared<const T>(std::move(value));
}

// Writes a file in one piece; what went wrong, or nothing.
QString write_whole(const QString& path, const std::string& text) {
    QSaveFile file(path);
    const bool done =
        file.open(QIODevice::WriteOnly) &&
        file.write(text.data(), static_cast<qint64>(text.size())) == static_cast<qint64>(text.size()) &&
        file.commit();
    return done ? QString() : ShopParts::tr("%1 could not be written: %2.").arg(path, file.errorString());
}

}  // namespace

class EditPartsCommand : public QUndoCommand {
  public:
    EditPartsCommand(ShopParts& parts, const QString& text, ShopParts::Content before,
                     ShopParts::Content after)
        : QUndoCommand(text), parts_(parts), before_(std::move(before)), after_(std::move(after)) {}
    void undo() override { parts_.put(before_); }
    void redo() override { parts_.put(after_); }

  private:
    ShopParts& parts_;
    ShopParts::Content before_;
    ShopParts::Content after_;
};

ShopParts::ShopParts(const ReworkBook& book, QUndoStack& undo, QObject* parent)
    : QObject(parent),
      book_(book),
      undo_(undo),
      content_{kept(Stock{}), kept(std::vector<DonorResult>{}), kept(std::vector<KeptHeatLog>{}),
               kept(std::vector<Stopgap>{}), kept(std::vector<Footprint>{})},
      saved_(content_) {
    save_soon_.setSingleShot(true);
    save_soon_.setInterval(save_after_ms);
    connect(&save_soon_, &QTimer::timeout, this, &ShopParts::save);
    try_again_.setSingleShot(true);
    try_again_.setInterval(try_again_ms);
    connect(&try_again_, &QTimer::timeout, this, &ShopParts::save);
}

ShopParts::~ShopParts() {
    flush();
}

void ShopParts::openFolder(const std::filesystem::path& folder) {
    flush();
    try_again_.stop();
    missing_.clear();
    folder_ = folder;
    unreadable_.clear();
    const auto read = [&](const char* name, auto empty, const auto& parse) {
        std::error_code none;
        if (folder_.empty() || !std::filesystem::exists(folder_ / name, none))
            return kept(std::move(empty));
        const auto text = read_text_file(folder_ / name, std::size_t{1} << 30);
        auto parsed =
            text ? parse(*text, std::string(name)) : decltype(parse(*text, std::string(name)))(text.error());
        if (parsed)
            return kept(std::move(parsed).value());
        unreadable_.insert(name);
        emit trouble(tr("%1 The file is left as it is; changes to it are not kept.")
                         .arg(QString::fromStdString(parsed.error().text())));
        return kept(std::move(empty));
    };
    content_.stock = read("stock.json", Stock{}, parse_stock);
    content_.donors = read("donor-results.json", std::vector<DonorResult>{}, parse_donor_results);
    content_.logs = read("heat-logs.json", std::vector<KeptHeatLog>{},
                         [this](const std::string& text, const std::string& file) {
                             return parse_heat_logs(text, file, book_.heat_parts);
                         });
    content_.stopgaps = read("stopgaps.json", std::vector<Stopgap>{}, parse_stopgaps);
    content_.footprints = read("footprints.json", std::vector<Footprint>{}, parse_footprints);
    saved_ = content_;
    calibrate();
    emit changed();
}

std::vector<Footprint> ShopParts::footprints() const {
    std::vector<Footprint> all = book_.footprints;
    all.insert(all.end(), content_.footprints->begin(), content_.footprints->end());
    return all;
}

void ShopParts::push(const QString& text, Content after) {
    undo_.push(new EditPartsCommand(*this, text, content_, std::move(after)));
}

void ShopParts::put(const Content& content) {
    const bool logs_differ = content.logs != content_.logs;
    content_ = content;
    if (logs_differ)
        calibrate();
    save_soon_.start();
    emit changed();
}

void ShopParts::editStock(const QString& text, const std::function<void(Stock&)>& change) {
    Stock stock = *content_.stock;
    change(stock);
    if (stock == *content_.stock)
        return;
    Content after = content_;
    after.stock = kept(std::move(stock));
    push(text, std::move(after));
}

template <typename Item>
void ShopParts::append(std::shared_ptr<const std::vector<Item>> Content::*list, const Item& item,
                       const QString& text) {
    auto longer = *(content_.*list);
    longer.push_back(item);
    Content after = content_;
    after.*list = kept(std::move(longer));
    push(text, std::move(after));
}

void ShopParts::addDonorResult(const DonorResult& result) {
    append(&Content::donors, result, tr("Result of a donor chip"));
}

void ShopParts::addHeatLog(const KeptHeatLog& log) {
    append(&Content::logs, log, tr("Log of rework"));
}

void ShopParts::addFootprint(const Footprint& footprint) {
    append(&Content::footprints, footprint, tr("Footprint %1").arg(QString::fromStdString(footprint.title)));
}

void ShopParts::editStopgaps(const QString& text, const std::function<void(std::vector<Stopgap>&)>& change) {
    auto list = *content_.stopgaps;
    change(list);
    if (list == *content_.stopgaps)
        return;
    Content after = content_;
    after.stopgaps = kept(std::move(list));
    push(text, std::move(after));
}

void ShopParts::calibrate() {
    std::vector<HeatLog> logs;
    for (const KeptHeatLog& each : *content_.logs)
        logs.push_back(each.log);
    const auto found = calibrate_heat(logs);
    calibration_ = found ? *found : HeatCalibration{};
    if (!found)
        emit trouble(QString::fromStdString(found.error().text()));
}

void ShopParts::save() {
    if (folder_.empty())
        return;
    // One writer at a time; what changes meanwhile is written next.
    if (saving_.running()) {
        save_soon_.start();
        return;
    }
    const QString folder = QString::fromStdString(folder_.string());
    const auto write_all = [now = content_, before = saved_, folder,
                            leave = unreadable_](const TaskControl&) {
        Written done{{}, {}, before};
        if (!QDir().mkpath(folder))
            done.problems << tr("The folder %1 cannot be made.").arg(folder);
        const auto write = [&](const char* name, auto list, const auto& text_of) {
            if (now.*list == before.*list)
                return;
            const QString problem =
                leave.count(name) != 0 ? QString() : write_whole(folder + "/" + name, text_of());
            if (problem.isEmpty()) {
                done.on_disk.*list = now.*list;
            } else {
                done.problems << problem;
                done.missing << QLatin1String(name);
            }
        };
        write("stock.json", &Content::stock, [&] { return write_stock(*now.stock); });
        write("donor-results.json", &Content::donors, [&] { return write_donor_results(*now.donors); });
        write("heat-logs.json", &Content::logs, [&] { return write_heat_logs(*now.logs); });
        write("stopgaps.json", &Content::stopgaps, [&] { return write_stopgaps(*now.stopgaps); });
        write("footprints.json", &Content::footprints, [&] { return write_footprints(*now.footprints); });
        return done;
    };
    saving_.start(write_all, [this](const Written& written) { takeWritten(written); });
}

void ShopParts::takeWritten(const Written& written) {
    saved_ = written.on_disk;
    for (const QString& problem : written.problems)
        emit trouble(problem);
    if (!written.missing.isEmpty())
        try_again_.start();
    if (written.missing != missing_) {
        missing_ = written.missing;
        emit unsavedChanged();
    }
}

void ShopParts::flush() {
    saving_.finish();
    if (save_soon_.isActive() || try_again_.isActive()) {
        save_soon_.stop();
        try_again_.stop();
        save();
        saving_.finish();
    }
}

}  // namespace eh
