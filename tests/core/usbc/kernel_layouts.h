// SPDX-License-Identifier: GPL-3.0-or-later
// The kernel's own packing of USB Power Delivery words (include/linux/usb/pd.h and pd_vdo.h of the Debian
// package linux-headers-*-common), as functions.
#pragma once

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

uint16_t kernel_header(unsigned type, int source, int host, unsigned revision, unsigned id, unsigned count,
                       int extended);
uint16_t kernel_extended_header(unsigned size, int request, unsigned chunk, int chunked);
uint32_t kernel_fixed(unsigned millivolts, unsigned milliamps, int dual_role, int suspend, int external,
                      int usb, int data_swap, int unchunked);
uint32_t kernel_battery(unsigned least_mv, unsigned most_mv, unsigned milliwatts);
uint32_t kernel_variable(unsigned least_mv, unsigned most_mv, unsigned milliamps);
uint32_t kernel_programmable(unsigned least_mv, unsigned most_mv, unsigned milliamps);
uint32_t kernel_request_fixed(unsigned position, unsigned operating_ma, unsigned most_ma, int mismatch,
                              int usb, int no_suspend);
uint32_t kernel_request_battery(unsigned position, unsigned operating_mw, unsigned most_mw);
uint32_t kernel_request_programmable(unsigned position, unsigned millivolts, unsigned milliamps);
uint32_t kernel_vendor_header(unsigned vendor, int structured, unsigned version, unsigned position,
                              unsigned answer, unsigned command);
uint32_t kernel_passive_cable(unsigned most_volts_code, unsigned amps_code);
unsigned kernel_control_type(const char* name);
unsigned kernel_data_type(const char* name);
unsigned kernel_extended_type(const char* name);
unsigned kernel_sink_wait_cap_ms(void);
unsigned kernel_source_recover_least_ms(void);
unsigned kernel_source_recover_most_ms(void);
unsigned kernel_hard_reset_count(void);

#ifdef __cplusplus
}
#endif
