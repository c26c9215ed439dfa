// SPDX-License-Identifier: GPL-3.0-or-later
/* What include/linux/usb/pd.h and pd_vdo.h of the kernel need from elsewhere, so that their layouts can be
 * compiled outside the kernel and compared with. */
#ifndef EH_TEST_KERNEL_H
#define EH_TEST_KERNEL_H
#include <stdint.h>
typedef uint8_t u8;
typedef uint16_t u16;
typedef uint32_t u32;
typedef uint16_t __le16;
typedef uint32_t __le32;
#define BIT(n) (1UL << (n))
#define GENMASK(h, l) (((~0UL) << (l)) & (~0UL >> (63 - (h))))
#define IS_ENABLED(x) 0
#define __packed __attribute__((packed))
#define cpu_to_le16(x) (x)
#define le16_to_cpu(x) (x)
struct device;
#endif
