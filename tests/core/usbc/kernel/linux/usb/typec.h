// SPDX-License-Identifier: GPL-3.0-or-later
/* The few names that include/linux/usb/pd.h takes from its neighbour. */
#ifndef EH_TEST_TYPEC_H
#define EH_TEST_TYPEC_H
enum typec_role { TYPEC_SINK, TYPEC_SOURCE };
enum typec_data_role { TYPEC_DEVICE, TYPEC_HOST };
#endif
