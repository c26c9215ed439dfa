// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of a settings page against what a machine would give there.
#pragma once

#include "core/prediction/expectation.h"
#include "core/readings/settings_page.h"

namespace eh {

// Density of the numbers on a page, in the units of page_background(); 1 of an empty page. A machine that
// shows no page says nothing of them: their background. Of watts, four in five pages give those that the
// charger agreed on or names itself by, and as many give none where none are known (estimates); a charger
// within a quarter of that counts as the same. A pack's cycles go by its health, roughly: some 25 for each
// per cent lost, within a factor of two and a half (common practice: 80 % after 500).
double page_density(const SettingsPage& page, const PoweredView& sample);

}  // namespace eh
