// SPDX-License-Identifier: GPL-3.0-or-later
#include <linux/kernel.h>
