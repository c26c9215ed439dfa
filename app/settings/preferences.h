// SPDX-License-Identifier: GPL-3.0-or-later
// What the program remembers between starts, with defaults.
#pragma once

#include <QByteArray>
#include <QSettings>
#include <QString>

#include "core/planning/next_act.h"
#include "instruments/meter_dialect.h"

namespace eh {

class Preferences {
  public:
    [[nodiscard]] QString meterAddress() const { return settings_.value("meter/address").toString(); }
    void setMeterAddress(const QString& address) { settings_.setValue("meter/address", address); }
    [[nodiscard]] QString multimeterAddress() const {
        return settings_.value("multimeter/address").toString();
    }
    void setMultimeterAddress(const QString& address) { settings_.setValue("multimeter/address", address); }
    [[nodiscard]] QString supplyAddress() const { return settings_.value("supply/address").toString(); }
    void setSupplyAddress(const QString& address) { settings_.setValue("supply/address", address); }
    [[nodiscard]] QString cameraAddress() const { return settings_.value("camera/address").toString(); }
    void setCameraAddress(const QString& address) { settings_.setValue("camera/address", address); }
    // Which columns of the meter's lines mean what.
    [[nodiscard]] MeterColumns meterColumns() const;
    void setMeterColumns(const MeterColumns& columns);
    // The board file last opened for a kind of machine.
    [[nodiscard]] QString boardOf(const QString& machine) const {
        return machine.isEmpty() ? QString() : settings_.value("boards/" + machine).toString();
    }
    void setBoardOf(const QString& machine, const QString& file) {
        if (!machine.isEmpty())
            settings_.setValue("boards/" + machine, file);
    }
    [[nodiscard]] QByteArray geometry() const { return settings_.value("window/geometry").toByteArray(); }
    void setGeometry(const QByteArray& geometry) { settings_.setValue("window/geometry", geometry); }
    [[nodiscard]] QString shopName() const { return settings_.value("shop/name").toString(); }
    void setShopName(const QString& name) { settings_.setValue("shop/name", name); }
    [[nodiscard]] QString shopLogo() const { return settings_.value("shop/logo").toString(); }
    void setShopLogo(const QString& file) { settings_.setValue("shop/logo", file); }
    // The shop's server as user@host:port/database; empty: the shop is a file.
    [[nodiscard]] QString shopServer() const { return settings_.value("shop/server").toString(); }
    void setShopServer(const QString& address) { settings_.setValue("shop/server", address); }
    [[nodiscard]] QString technician() const { return settings_.value("shop/technician").toString(); }
    void setTechnician(const QString& name) { settings_.setValue("shop/technician", name); }
    // Terms of a quote.
    [[nodiscard]] double hourPrice() const { return settings_.value("quote/hour", 60.0).toDouble(); }
    void setHourPrice(double price) { settings_.setValue("quote/hour", price); }
    [[nodiscard]] double partFactor() const { return settings_.value("quote/part_factor", 1.5).toDouble(); }
    void setPartFactor(double factor) { settings_.setValue("quote/part_factor", factor); }
    [[nodiscard]] QString exportFolder() const { return settings_.value("export/folder").toString(); }
    void setExportFolder(const QString& folder) { settings_.setValue("export/folder", folder); }

    // Whether the shop's own repairs move the rates.
    // Whether a supply's output was on, or not known to be off, when this was last written: survives a crash.
    [[nodiscard]] bool supplyMayBeOn() const { return settings_.value("supply/may_be_on", false).toBool(); }
    void setSupplyMayBeOn(bool on) {
        settings_.setValue("supply/may_be_on", on);
        settings_.sync();
    }
    [[nodiscard]] bool useShopRates() const { return settings_.value("rates/use_own", true).toBool(); }
    void setUseShopRates(bool use) { settings_.setValue("rates/use_own", use); }

    // How next acts are chosen.
    [[nodiscard]] NextOptions nextOptions() const;
    void setNextOptions(const NextOptions& options);

  private:
    QSettings settings_;
};

}  // namespace eh
