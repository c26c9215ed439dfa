// The board: find a net or a part, see where it is, what hangs on it, and where a rail goes on.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>
#include <optional>

#include "app/models/job_session.h"
#include "app/models/preferences.h"
#include "core/board/ipc356.h"
#include "core/board/net_paths.h"
#include "core/machine/knowledge.h"

namespace eh {

class BoardView;

class BoardPage : public QWidget {
    Q_OBJECT
  public:
    BoardPage(JobSession& session, Preferences& preferences, const Knowledge& knowledge,
              QWidget* parent = nullptr);

    // Opens a netlist or a board file; it is remembered for this kind of machine.
    Outcome openFile(const QString& file);
    void pickNet(int net);
    void pickPart(int part);
    void clearPick();
    void turnOver();

    [[nodiscard]] const BoardMap* map() const { return board_ ? &board_->map : nullptr; }
    [[nodiscard]] BoardView& view() { return *view_; }
    [[nodiscard]] QLineEdit& search() { return *search_; }
    [[nodiscard]] QListWidget& found() { return *found_; }
    [[nodiscard]] QString details() const { return details_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeSide();
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
    std::optional<BoardImport> board_;
    std::string remembered_for_;  // the kind of machine whose board was looked for
    int net_ = no_index;
    int part_ = no_index;
    BoardView* view_;
    QLabel* title_;
    QLabel* remarks_;
    QLineEdit* search_;
    QListWidget* found_;
    QLabel* details_;
    QLabel* empty_;
    QPushButton* side_button_;
};

}  // namespace eh
