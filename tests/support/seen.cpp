// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/seen.h"

namespace eh::test {

std::optional<double> number_of(const Reading& reading) {
    if (const auto* number = number_when_off(reading))
        return *number;
    if (const auto* volts = reading.as<NetVoltsReading>())
        return volts->volts;
    return heat_of(reading).rise_kelvin;
}

const MeterSummary& meter_of(const Reading& reading) {
    if (const auto* injected = reading.as<InjectionReading>())
        return injected->supply;
    return std::get<MeterReading>(reading.value).meter;
}

const HotPartReading& heat_of(const Reading& reading) {
    if (const auto* injected = reading.as<InjectionReading>())
        return injected->hottest;
    return std::get<HotPartReading>(reading.value);
}

}  // namespace eh::test
