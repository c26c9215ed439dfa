// SPDX-License-Identifier: GPL-3.0-or-later
// What the whole shop shares beside its jobs: stock, results of donor chips, rework logs, stopgaps,
// footprints that it measured. Kept as files of open formats in a folder beside the shop file.
#pragma once

#include <QObject>
#include <QTimer>
#include <QUndoStack>
#include <filesystem>
#include <functional>
#include <memory>
#include <set>

#include "app/services/latest_task.h"
#include "core/parts/donor_results.h"
#include "core/parts/footprint.h"
#include "core/parts/stock.h"
#include "core/rework/heat_logs.h"
#include "core/rework/rework_book.h"
#include "core/rework/stopgap.h"

namespace eh {

class ShopParts : public QObject {
    Q_OBJECT
  public:
    // Edits go onto `undo`; both must outlive this.
    ShopParts(const ReworkBook& book, QUndoStack& undo, QObject* parent = nullptr);
    ~ShopParts() override;

    // Reads the folder; a file that is missing is an empty list. One that cannot be read is told and never
    // written over.
    void openFolder(const std::filesystem::path& folder);

    [[nodiscard]] const ReworkBook& book() const { return book_; }
    [[nodiscard]] const Stock& stock() const { return *content_.stock; }
    [[nodiscard]] const std::vector<DonorResult>& donorResults() const { return *content_.donors; }
    [[nodiscard]] const std::vector<KeptHeatLog>& heatLogs() const { return *content_.logs; }
    [[nodiscard]] const std::vector<Stopgap>& stopgaps() const { return *content_.stopgaps; }
    // Shipped ones first, then the shop's own.
    [[nodiscard]] std::vector<Footprint> footprints() const;
    // What the logs say of this bench's air and boards.
    [[nodiscard]] const HeatCalibration& calibration() const { return calibration_; }

    // Each is one undoable edit; an edit that changes nothing leaves no trace.
    void editStock(const QString& text, const std::function<void(Stock&)>& change);
    void addDonorResult(const DonorResult& result);
    void addHeatLog(const KeptHeatLog& log);
    void addFootprint(const Footprint& footprint);
    void editStopgaps(const QString& text, const std::function<void(std::vector<Stopgap>&)>& change);

    // Waits until everything is on disk, or was tried.
    void flush();
    // Names of the files whose last state is not on disk because it did not take it. They are written again
    // with every edit and every few seconds.
    [[nodiscard]] QStringList unsaved() const { return missing_; }

  signals:
    void changed();
    void unsavedChanged();
    void trouble(const QString& sentence);

  private:
    friend class EditPartsCommand;
    // Lists that nobody changes any more, so that a copy of all costs nothing.
    struct Content {
        std::shared_ptr<const Stock> stock;
        std::shared_ptr<const std::vector<DonorResult>> donors;
        std::shared_ptr<const std::vector<KeptHeatLog>> logs;
        std::shared_ptr<const std::vector<Stopgap>> stopgaps;
        std::shared_ptr<const std::vector<Footprint>> footprints;
    };

    struct Written {
        QStringList problems;
        QStringList missing;  // files that could not be written
        Content on_disk;
    };

    void push(const QString& text, Content after);
    template <typename Item>
    void append(std::shared_ptr<const std::vector<Item>> Content::*list, const Item& item,
                const QString& text);
    void put(const Content& content);
    void calibrate();
    void save();
    void takeWritten(const Written& written);

    const ReworkBook& book_;
    QUndoStack& undo_;
    std::filesystem::path folder_;
    Content content_;
    Content saved_;
    std::set<std::string> unreadable_;  // names of files that are left alone
    HeatCalibration calibration_;
    QTimer save_soon_;
    QTimer try_again_;
    QStringList missing_;
    LatestTask<Written> saving_;  // last: it is waited for before the rest goes
};

}  // namespace eh
