// SPDX-License-Identifier: GPL-3.0-or-later
// The bench: charge path, suspects, next acts, quick line and roll, all in one sight.
#pragma once

#include <QLabel>
#include <QProgressBar>
#include <QToolButton>
#include <QWidget>

#include "app/screens/bench/charge_path_view.h"
#include "app/screens/bench/next_acts_view.h"
#include "app/screens/bench/offers_view.h"
#include "app/screens/bench/question_bar.h"
#include "app/screens/bench/quick_line_edit.h"
#include "app/screens/bench/roll_view.h"
#include "app/screens/bench/signs_button.h"
#include "app/screens/bench/suspects_view.h"
#include "app/services/design_service.h"
#include "app/services/diagnosis_service.h"
#include "app/services/job_session.h"
#include "app/services/meter_capture.h"
#include "app/services/meter_recording.h"
#include "instruments/meter_feed.h"

namespace eh {

class BenchPage : public QWidget {
    Q_OBJECT
  public:
    BenchPage(JobSession& session, DiagnosisService& diagnosis, MeterRecording& recording, MeterFeed& feed,
              TraceWatch& watch, const MeterCapture& meter_capture, const Knowledge& knowledge,
              QWidget* parent = nullptr);

    // Takes what the meter shows now as a reading, stamped with how the machine stands.
    void capture();
    // Puts the bench into the state that an act needs and waits for its value; a due repair is passed on.
    void begin(const NextAct& act);

    // Says how it may be built where nobody has looked, and where the readings speak against what the ticket
    // says.
    void showKinds(const KnownDesign& design);

    [[nodiscard]] QuickLineEdit& quickLine() { return *quick_line_; }
    [[nodiscard]] SuspectsView& suspects() { return *suspects_; }
    [[nodiscard]] NextActsView& nextActs() { return *next_; }
    [[nodiscard]] RollView& roll() { return *roll_; }
    [[nodiscard]] ChargePathView& path() { return *path_; }

  signals:
    void warned(const QString& warning);  // for the bench strip
    void said(const QString& sentence);   // for the status line
    void designAsked();                   // what is known of the machine
    void hourAsked();                     // the plan of the next hour
    void talkAsked();                     // the next act is to record the CC line
    void repairAsked(const std::string& block, Work remedy);

  private:
    // The strip as the act needs it, with the work that comes before it.
    void setBenchUp(const NextAct& act);
    QWidget* makeSide();  // suspects and what to do next
    void setUpAroundNextActs();
    void takeEntry(const QuickEntry& entry);
    void takeSeen(const ReadingValue& value);  // as the bench stands
    void showAnswer();
    void clearAnswer();
    void giveUp(const std::string& net);
    void showOutOfReach();
    void showDangers(const Answer& answer);
    void noteBenchChange();

    JobSession& session_;
    DiagnosisService& diagnosis_;
    MeterFeed& feed_;
    const MeterCapture& meter_capture_;
    const Knowledge& knowledge_;
    ChargePathView* path_;
    SuspectsView* suspects_;
    NextActsView* next_;
    QuickLineEdit* quick_line_;
    SignsButton* signs_;
    RollView* roll_;
    QProgressBar* progress_;
    QLabel* next_heading_;
    QuestionBar* question_;
    OffersView* offers_;
    QLabel* dangers_say_;
    QToolButton* out_of_reach_;
    QLabel* kinds_say_;
    BenchConfiguration last_bench_;
};

}  // namespace eh
