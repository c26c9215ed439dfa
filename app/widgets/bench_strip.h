// SPDX-License-Identifier: GPL-3.0-or-later
// The bench strip: how the machine stands, always in sight, each part of it changed by one key.
#pragma once

#include <QAbstractButton>
#include <QAction>
#include <QHBoxLayout>
#include <QLabel>
#include <QList>
#include <QVBoxLayout>
#include <QWidget>

#include "app/services/job_session.h"
#include "core/machine/model/source_pieces.h"
#include "core/machine/model/topology.h"

namespace eh {

// One plate of the strip: what, how it stands, and the key that changes it.
class StripPlate : public QAbstractButton {
    Q_OBJECT
  public:
    StripPlate(const QString& name, const QString& key, QWidget* parent = nullptr);

    void setValue(const QString& value, bool unusual);
    [[nodiscard]] QString value() const { return value_; }
    [[nodiscard]] QSize sizeHint() const override;
    // Room for the value; the name is cut short before it.
    [[nodiscard]] QSize minimumSizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QString name_;
    QString key_;
    QString value_;
    bool unusual_ = false;  // differs from a closed machine with the shop's charger
};

class BenchStrip : public QWidget {
    Q_OBJECT
  public:
    BenchStrip(JobSession& session, const Knowledge& knowledge, QWidget* parent = nullptr);

    // The actions behind the plates, for menus and for the window, whose shortcuts they carry.
    [[nodiscard]] const QList<QAction*>& benchActions() const { return actions_; }

    // A warning that takes the strip over until it is cleared with an empty text.
    void setWarning(const QString& warning);
    [[nodiscard]] QString warning() const { return warning_->text(); }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    using Change = std::function<void(BenchConfiguration&)>;
    StripPlate* addPlate(const QString& name, const QKeySequence& key, const QString& description,
                         const Change& change);
    void changeBench(const QString& description, const Change& change);
    void nextPort(BenchConfiguration& bench) const;
    void swapSource(BenchConfiguration& bench, SourcePiece piece) const;
    static void nextHold(BenchConfiguration& bench);
    void refresh();
    // The warning stands behind the plates where they leave room, else below them.
    void placeWarning();
    [[nodiscard]] const Topology* topology() const;

    JobSession& session_;
    const Knowledge& knowledge_;
    QList<QAction*> actions_;
    QHBoxLayout* row_;
    QVBoxLayout* column_;
    StripPlate* plug_;
    StripPlate* port_;
    StripPlate* side_;
    StripPlate* hold_;
    StripPlate* button_;
    StripPlate* charger_;
    StripPlate* lead_;
    StripPlate* battery_;
    StripPlate* case_;
    StripPlate* board_;
    StripPlate* special_;
    QLabel* warning_;
};

}  // namespace eh
