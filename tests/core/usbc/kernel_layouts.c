// SPDX-License-Identifier: GPL-3.0-or-later
#include "kernel_layouts.h"

#include <linux/usb/pd.h>
#include <linux/usb/pd_vdo.h>
#include <string.h>

uint16_t kernel_header(unsigned type, int source, int host, unsigned revision, unsigned id, unsigned count,
                       int extended) {
    return (uint16_t)PD_HEADER(type, source ? TYPEC_SOURCE : TYPEC_SINK, host ? TYPEC_HOST : TYPEC_DEVICE, revision,
                               id, count, extended);
}
uint16_t kernel_extended_header(unsigned size, int request, unsigned chunk, int chunked) {
    return (uint16_t)PD_EXT_HDR(size, request, chunk, chunked);
}
uint32_t kernel_fixed(unsigned millivolts, unsigned milliamps, int dual_role, int suspend, int external, int usb,
                      int data_swap, int unchunked) {
    return (uint32_t)PDO_FIXED(millivolts, milliamps,
                               (dual_role ? PDO_FIXED_DUAL_ROLE : 0) | (suspend ? PDO_FIXED_SUSPEND : 0) |
                                   (external ? PDO_FIXED_EXTPOWER : 0) | (usb ? PDO_FIXED_USB_COMM : 0) |
                                   (data_swap ? PDO_FIXED_DATA_SWAP : 0) | (unchunked ? PDO_FIXED_UNCHUNK_EXT : 0));
}
uint32_t kernel_battery(unsigned least_mv, unsigned most_mv, unsigned milliwatts) {
    return (uint32_t)PDO_BATT(least_mv, most_mv, milliwatts);
}
uint32_t kernel_variable(unsigned least_mv, unsigned most_mv, unsigned milliamps) {
    return (uint32_t)PDO_VAR(least_mv, most_mv, milliamps);
}
uint32_t kernel_programmable(unsigned least_mv, unsigned most_mv, unsigned milliamps) {
    return (uint32_t)PDO_PPS_APDO(least_mv, most_mv, milliamps);
}
uint32_t kernel_request_fixed(unsigned position, unsigned operating_ma, unsigned most_ma, int mismatch, int usb,
                              int no_suspend) {
    return (uint32_t)RDO_FIXED(position, operating_ma, most_ma,
                               (mismatch ? RDO_CAP_MISMATCH : 0) | (usb ? RDO_USB_COMM : 0) |
                                   (no_suspend ? RDO_NO_SUSPEND : 0));
}
uint32_t kernel_request_battery(unsigned position, unsigned operating_mw, unsigned most_mw) {
    return (uint32_t)RDO_BATT(position, operating_mw, most_mw, 0);
}
uint32_t kernel_request_programmable(unsigned position, unsigned millivolts, unsigned milliamps) {
    return (uint32_t)RDO_PROG(position, millivolts, milliamps, 0);
}
uint32_t kernel_vendor_header(unsigned vendor, int structured, unsigned version, unsigned position,
                              unsigned answer, unsigned command) {
    return (uint32_t)(vendor << 16 | (structured ? VDO_SVDM_TYPE : 0) | VDO_SVDM_VERS(version) |
                      VDO_OPOS(position) | VDO_CMDT(answer) | command);
}
uint32_t kernel_passive_cable(unsigned most_volts_code, unsigned amps_code) {
    return (uint32_t)VDO_PCABLE(0, 0, CABLE_VDO_VER1_0, 0, 0, 0, most_volts_code, amps_code, 0);
}

struct Named {
    const char* name;
    unsigned value;
};
#define NAMED(x) {#x, x}

static unsigned find(const struct Named* table, unsigned count, const char* name) {
    for (unsigned i = 0; i < count; ++i) {
        if (strcmp(table[i].name, name) == 0)
            return table[i].value;
    }
    return 0;
}
#define COUNT(table) (sizeof(table) / sizeof(table[0]))

unsigned kernel_control_type(const char* name) {
    static const struct Named table[] = {
        NAMED(PD_CTRL_GOOD_CRC),       NAMED(PD_CTRL_GOTO_MIN),           NAMED(PD_CTRL_ACCEPT),
        NAMED(PD_CTRL_REJECT),         NAMED(PD_CTRL_PING),               NAMED(PD_CTRL_PS_RDY),
        NAMED(PD_CTRL_GET_SOURCE_CAP), NAMED(PD_CTRL_GET_SINK_CAP),       NAMED(PD_CTRL_DR_SWAP),
        NAMED(PD_CTRL_PR_SWAP),        NAMED(PD_CTRL_VCONN_SWAP),         NAMED(PD_CTRL_WAIT),
        NAMED(PD_CTRL_SOFT_RESET),     NAMED(PD_CTRL_NOT_SUPP),           NAMED(PD_CTRL_GET_SOURCE_CAP_EXT),
        NAMED(PD_CTRL_GET_STATUS),     NAMED(PD_CTRL_FR_SWAP),            NAMED(PD_CTRL_GET_PPS_STATUS),
        NAMED(PD_CTRL_GET_COUNTRY_CODES)};
    return find(table, COUNT(table), name);
}
unsigned kernel_data_type(const char* name) {
    static const struct Named table[] = {
        NAMED(PD_DATA_SOURCE_CAP),  NAMED(PD_DATA_REQUEST), NAMED(PD_DATA_BIST),
        NAMED(PD_DATA_SINK_CAP),    NAMED(PD_DATA_BATT_STATUS), NAMED(PD_DATA_ALERT),
        NAMED(PD_DATA_GET_COUNTRY_INFO), NAMED(PD_DATA_ENTER_USB), NAMED(PD_DATA_VENDOR_DEF)};
    return find(table, COUNT(table), name);
}
unsigned kernel_extended_type(const char* name) {
    static const struct Named table[] = {
        NAMED(PD_EXT_SOURCE_CAP_EXT),      NAMED(PD_EXT_STATUS),            NAMED(PD_EXT_GET_BATT_CAP),
        NAMED(PD_EXT_GET_BATT_STATUS),     NAMED(PD_EXT_BATT_CAP),          NAMED(PD_EXT_GET_MANUFACTURER_INFO),
        NAMED(PD_EXT_MANUFACTURER_INFO),   NAMED(PD_EXT_SECURITY_REQUEST),  NAMED(PD_EXT_SECURITY_RESPONSE),
        NAMED(PD_EXT_FW_UPDATE_REQUEST),   NAMED(PD_EXT_FW_UPDATE_RESPONSE), NAMED(PD_EXT_PPS_STATUS),
        NAMED(PD_EXT_COUNTRY_INFO),        NAMED(PD_EXT_COUNTRY_CODES)};
    return find(table, COUNT(table), name);
}
unsigned kernel_sink_wait_cap_ms(void) { return PD_T_SINK_WAIT_CAP; }
unsigned kernel_source_recover_least_ms(void) { return PD_T_SRC_RECOVER; }
unsigned kernel_source_recover_most_ms(void) { return PD_T_SRC_RECOVER_MAX; }
unsigned kernel_hard_reset_count(void) { return PD_N_HARD_RESET_COUNT; }
