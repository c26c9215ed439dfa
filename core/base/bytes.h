// SPDX-License-Identifier: GPL-3.0-or-later
// Values as bytes and back, for files that only this program on this kind of machine reads: caches. Numbers
// are written as they stand in memory.
#pragma once

#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>
#include <type_traits>

namespace eh {

class ByteWriter {
  public:
    template <typename T>
    void number(T value) {
        static_assert(std::is_trivially_copyable_v<T>);
        bytes_.append(reinterpret_cast<const char*>(&value), sizeof value);
    }
    void count(std::size_t value) { number(static_cast<std::uint32_t>(value)); }
    void text(std::string_view value) {
        count(value.size());
        bytes_.append(value);
    }
    // A list of numbers that lie in a row.
    template <typename List>
    void numbers(const List& list) {
        count(list.size());
        if (list.size() > 0)
            bytes_.append(reinterpret_cast<const char*>(&*list.begin()), list.size() * sizeof(*list.begin()));
    }
    [[nodiscard]] const std::string& bytes() const { return bytes_; }

  private:
    std::string bytes_;
};

// Past the end everything reads as zero and empty, and ok() says so.
class ByteReader {
  public:
    explicit ByteReader(std::string_view bytes) : left_(bytes) {}

    template <typename T>
    T number() {
        static_assert(std::is_trivially_copyable_v<T>);
        T value{};
        take(&value, sizeof value);
        return value;
    }
    // Of things that take at least a byte each.
    std::size_t count() {
        const auto value = std::size_t{number<std::uint32_t>()};
        if (value > left_.size())
            fail();
        return ok_ ? value : 0;
    }
    std::string text() {
        std::string value(count(), '\0');
        take(value.data(), value.size());
        return value;
    }
    template <typename List>
    List numbers() {
        List list(count());
        take(list.data(), list.size() * sizeof(typename List::value_type));
        return list;
    }
    [[nodiscard]] bool ok() const { return ok_; }
    [[nodiscard]] bool at_end() const { return left_.empty(); }

  private:
    void take(void* to, std::size_t size) {
        if (size > left_.size())
            fail();
        if (!ok_ || size == 0)
            return;
        std::memcpy(to, left_.data(), size);
        left_.remove_prefix(size);
    }
    void fail() {
        ok_ = false;
        left_ = {};
    }
    std::string_view left_;
    bool ok_ = true;
};

}  // namespace eh
