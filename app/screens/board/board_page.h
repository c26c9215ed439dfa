// SPDX-License-Identifier: GPL-3.0-or-later
// The board: find a net or a part, see where it is, what hangs on it, and where a rail goes on.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTabWidget>
#include <QVBoxLayout>
#include <QWidget>
#include <optional>

#include "app/services/board_bench.h"
#include "app/services/job_session.h"
#include "app/settings/preferences.h"
#include "core/board/ipc356.h"
#include "core/board/net_paths.h"
#include "core/machine/model/knowledge.h"

namespace eh {

class BoardView;
class BenchSupply;
class DiagnosisService;
class ExpectedPanel;
class FeedPanel;
class HeatPanel;
class MillivoltPanel;
class PhotoPanel;
class ThermalCamera;
class TraceWatch;

class BoardPage : public QWidget {
    Q_OBJECT
  public:
    BoardPage(JobSession& session, DiagnosisService& diagnosis, const BenchSupply& supply,
              ThermalCamera& camera, const TraceWatch& trace, Preferences& preferences,
              const Knowledge& knowledge, QWidget* parent = nullptr);

    // Opens a netlist or a board file; it is remembered for this kind of machine.
    Outcome openFile(const QString& file);
    // Begins a map from a photo, or lays it under the one that is open.
    void openPhoto(const QString& file);
    void pickNet(int net);
    void pickPart(int part);
    void clearPick();
    void turnOver();

    [[nodiscard]] const BoardMap* map() const { return bench_.map(); }
    [[nodiscard]] BoardBench& bench() { return bench_; }
    [[nodiscard]] QTabWidget& tabs() { return *tabs_; }
    [[nodiscard]] ExpectedPanel& expected() { return *expected_; }
    [[nodiscard]] FeedPanel& feed() { return *feed_; }
    [[nodiscard]] MillivoltPanel& millivolts() { return *millivolts_; }
    [[nodiscard]] HeatPanel& heat() { return *heat_; }
    [[nodiscard]] PhotoPanel& photo() { return *photo_; }
    [[nodiscard]] BoardView& view() { return *view_; }
    [[nodiscard]] QLineEdit& search() { return *search_; }
    [[nodiscard]] QListWidget& found() { return *found_; }
    [[nodiscard]] QString details() const { return details_->text(); }
    [[nodiscard]] QSize minimumSizeHint() const override;

  signals:
    void said(const QString& sentence);
    // Volts and limit for the supply, on a net of the model.
    void supplyAsked(const QString& net, double volts, double limit_amps);

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    QWidget* makeSide();
    void makeTabs();
    void showMarks();
    // Shows the board that the bench holds; `stay`: only its pads changed.
    void showBoard(bool stay);
    void startFromPhoto();
    void openAsked();
    void openRemembered();
    void lookFor(const QString& typed);
    void padPicked(int pad);
    void showDetails();
    [[nodiscard]] std::vector<NetReach> waysFrom(int net) const;
    [[nodiscard]] QString netWords(int net) const;
    [[nodiscard]] QString machineWords(int net) const;

    JobSession& session_;
    Preferences& preferences_;
    const Knowledge& knowledge_;
    BoardBench bench_;
    std::string remembered_for_;  // the kind of machine whose board was looked for
    BoardView* view_;
    QVBoxLayout* board_column_ = nullptr;
    QTabWidget* tabs_;
    ExpectedPanel* expected_;
    FeedPanel* feed_;
    MillivoltPanel* millivolts_;
    HeatPanel* heat_;
    PhotoPanel* photo_;
    int pad_ = no_index;  // under the last click
    QLabel* title_;
    QLabel* remarks_;
    QLineEdit* search_;
    QListWidget* found_;
    QLabel* details_;
    QLabel* empty_;
    QPushButton* side_button_;
};

}  // namespace eh
