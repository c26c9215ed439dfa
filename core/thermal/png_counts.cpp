// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/png_counts.h"

#include <png.h>

#include <array>
#include <csetjmp>
#include <cstring>
#include <sstream>

namespace eh {
namespace {

constexpr std::size_t signature_bytes = 8;
constexpr png_uint_32 most_png_side = 8192;

struct Source {
    const std::string* bytes;
    std::size_t at;
};

void take_bytes(png_structp png, png_bytep to, png_size_t count) {
    auto* source = static_cast<Source*>(png_get_io_ptr(png));
    if (source->bytes->size() - source->at < count)
        png_error(png, "it ends in the middle");
    std::memcpy(to, source->bytes->data() + source->at, count);
    source->at += count;
}

void put_bytes(png_structp png, png_bytep from, png_size_t count) {
    static_cast<std::string*>(png_get_io_ptr(png))->append(reinterpret_cast<const char*>(from), count);
}

void no_flush(png_structp) {}
void no_warning(png_structp, png_const_charp) {}

// What libpng says is kept for the sentence; then it jumps back as it is wont to.
[[noreturn]] void keep_error(png_structp png, png_const_charp says) {
    *static_cast<std::string*>(png_get_error_ptr(png)) = says;
    longjmp(png_jmpbuf(png), 1);
}

// Both handles, freed whatever happens.
struct PngReading {
    std::string says;
    png_structp png = png_create_read_struct(PNG_LIBPNG_VER_STRING, &says, keep_error, no_warning);
    png_infop info = png_create_info_struct(png);
    PngReading() = default;
    PngReading(const PngReading&) = delete;
    PngReading& operator=(const PngReading&) = delete;
    ~PngReading() { png_destroy_read_struct(&png, &info, nullptr); }
};

// False after an error. Nothing with a destructor lives in here: a jump would pass it by.
bool read_head(PngReading& reading, Source& source) {
    if (setjmp(png_jmpbuf(reading.png)) != 0)
        return false;
    png_set_user_limits(reading.png, most_png_side, most_png_side);
    png_set_read_fn(reading.png, &source, take_bytes);
    png_read_info(reading.png, reading.info);
    return true;
}

bool read_rows(PngReading& reading, png_bytepp rows) {
    if (setjmp(png_jmpbuf(reading.png)) != 0)
        return false;
    png_read_image(reading.png, rows);
    png_read_end(reading.png, reading.info);
    return true;
}

std::string notes_of(const PngReading& reading) {
    png_textp texts = nullptr;
    int count = 0;
    png_get_text(reading.png, reading.info, &texts, &count);
    std::string notes;
    for (int i = 0; i < count; ++i)
        notes += std::string(texts[i].key) + " " + texts[i].text + "\n";
    return notes;
}

}  // namespace

bool is_png(std::string_view bytes) {
    return bytes.size() >= signature_bytes &&
           png_sig_cmp(reinterpret_cast<png_const_bytep>(bytes.data()), 0, signature_bytes) == 0;
}

Result<CountPicture> read_png(const std::string& bytes) {
    PngReading reading;
    Source source{&bytes, 0};
    if (!read_head(reading, source))
        return refused("this PNG picture cannot be read: " + reading.says);
    if (png_get_color_type(reading.png, reading.info) != PNG_COLOR_TYPE_GRAY ||
        png_get_bit_depth(reading.png, reading.info) != 16)
        return refused(
            "this picture is in colour or has 8 bits a pixel; a thermal frame is grey with 16 bits. "
            "Save the camera's radiometric picture, not its screen");
    CountPicture picture;
    picture.width = static_cast<int>(png_get_image_width(reading.png, reading.info));
    picture.height = static_cast<int>(png_get_image_height(reading.png, reading.info));
    const std::size_t row_bytes = png_get_rowbytes(reading.png, reading.info);
    std::vector<png_byte> pixels(row_bytes * static_cast<std::size_t>(picture.height));
    std::vector<png_bytep> rows;
    rows.reserve(static_cast<std::size_t>(picture.height));
    for (int y = 0; y < picture.height; ++y)
        rows.push_back(pixels.data() + row_bytes * static_cast<std::size_t>(y));
    if (!read_rows(reading, rows.data()))
        return refused("this PNG picture cannot be read: " + reading.says);
    picture.notes = notes_of(reading);
    picture.counts.reserve(pixels.size() / 2);
    for (std::size_t i = 0; i + 1 < pixels.size(); i += 2)
        picture.counts.push_back(static_cast<std::uint16_t>(pixels[i] << 8U | pixels[i + 1]));
    return picture;
}

std::string png_of(const CountPicture& picture) {
    std::string bytes;
    std::string says;
    std::vector<png_byte> pixels;
    pixels.reserve(2 * picture.counts.size());
    for (const std::uint16_t count : picture.counts) {
        pixels.push_back(static_cast<png_byte>(count >> 8U));
        pixels.push_back(static_cast<png_byte>(count & 0xFFU));
    }
    std::vector<png_bytep> rows;
    rows.reserve(static_cast<std::size_t>(picture.height));
    for (int y = 0; y < picture.height; ++y)
        rows.push_back(pixels.data() +
                       2UL * static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(y));
    std::vector<std::array<std::string, 2>> notes;
    std::istringstream lines(picture.notes);
    for (std::string name, value; lines >> name >> value;)
        notes.push_back({name, value});
    std::vector<png_text> texts;
    for (auto& [name, value] : notes) {
        png_text& text = texts.emplace_back();
        text.compression = PNG_TEXT_COMPRESSION_NONE;
        text.key = name.data();
        text.text = value.data();
        text.text_length = value.size();
    }
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, &says, nullptr, no_warning);
    png_infop info = png_create_info_struct(png);
    png_set_write_fn(png, &bytes, put_bytes, no_flush);
    png_set_IHDR(png, info, static_cast<png_uint_32>(picture.width), static_cast<png_uint_32>(picture.height),
                 16, PNG_COLOR_TYPE_GRAY, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT,
                 PNG_FILTER_TYPE_DEFAULT);
    png_set_text(png, info, texts.data(), static_cast<int>(texts.size()));
    png_write_info(png, info);
    png_write_image(png, rows.data());
    png_write_end(png, info);
    png_destroy_write_struct(&png, &info);
    return bytes;
}

}  // namespace eh
