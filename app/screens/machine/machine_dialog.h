// SPDX-License-Identifier: GPL-3.0-or-later
// Describe a kind of machine: like a known one, with its own ports, charger, battery and known resistances.
// Beside the fields stands what a sound one would show, worked out by the model.
#pragma once

#include <QDialog>
#include <QTimer>

#include "app/services/machine_library.h"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;
class QTableWidget;

namespace eh {

class MachineDialog : public QDialog {
    Q_OBJECT
  public:
    MachineDialog(MachineLibrary& library, QWidget* parent = nullptr);

    // Starts from a known kind.
    void startFrom(const std::string& topology);
    // Shows one that the shop described itself, to change it. What it is built like and how many ports it has
    // stay.
    void change(const std::string& topology);
    // As it is filled in now. Ohms that cannot be read are refused, with the net.
    [[nodiscard]] Result<MachineProfile> profile() const;
    [[nodiscard]] QString problem() const;

    [[nodiscard]] QLineEdit& name() { return *name_; }
    [[nodiscard]] QComboBox& like() { return *like_; }
    [[nodiscard]] QSpinBox& watts() { return *watts_; }
    [[nodiscard]] QSpinBox& cells() { return *cells_; }
    [[nodiscard]] QTableWidget& ports() { return *ports_; }
    [[nodiscard]] QTableWidget& ohms() { return *ohms_; }
    [[nodiscard]] QTableWidget& shown() { return *shown_; }
    [[nodiscard]] QPushButton& save() { return *save_; }

  private:
    QWidget* makeFields();
    QWidget* makePreview();
    void listKinds(const std::string& chosen);
    void fill(const Topology& base);
    void addPort();
    void removePort();
    void refresh();
    void keep();
    [[nodiscard]] const Topology* base() const;

    MachineLibrary& library_;
    QLineEdit* name_;
    QComboBox* like_;
    QTableWidget* ports_;
    QPushButton* more_ports_;
    QPushButton* fewer_ports_;
    QSpinBox* watts_;
    QDoubleSpinBox* volts_;
    QSpinBox* cells_;
    QComboBox* chemistry_;
    QTableWidget* ohms_;
    QTableWidget* shown_;
    QLabel* problem_;
    QPushButton* save_;
    QTimer settle_;        // typing has paused
    std::string changed_;  // id of the machine that is being changed; empty: a new one
    bool filling_ = false;
};

}  // namespace eh
