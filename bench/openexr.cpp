// The reference implementation of OpenEXR (Debian: libopenexr-dev), timed for comparison. Writes a noisy picture of 16 half
// channels to <folder>/<compression>.exr in every compression asked for, says "ready", then reads or writes such a file for
// each line of input ("read piz", "write zip") and prints the milliseconds it took. Memory is taken within the time.
//
// openexr <folder> <width> <height> <threads> <compression>...
#include <ImfChannelList.h>
#include <ImfCompression.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfOutputFile.h>
#include <ImfThreading.h>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <half.h>
#include <iostream>
#include <memory>
#include <string>

static const int CHANNELS = 16;
static const char *const NAMES[] = {"none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"};
static int width, height;

static std::string channelName(int index) { return std::string("c") + char('a' + index); }

static Imf::FrameBuffer frameBuffer(half *samples) {
  Imf::FrameBuffer frame;
  for (int k = 0; k < CHANNELS; k++) {
    char *plane = reinterpret_cast<char *>(samples + size_t(k) * width * height);
    frame.insert(channelName(k), Imf::Slice(Imf::HALF, plane, sizeof(half), sizeof(half) * width));
  }
  return frame;
}

static void write(const std::string &file, const std::string &compression, half *samples) {
  Imf::Header header(width, height);
  for (int code = 0; code < 10; code++)
    if (compression == NAMES[code]) header.compression() = Imf::Compression(code);
  for (int k = 0; k < CHANNELS; k++) header.channels().insert(channelName(k), Imf::Channel(Imf::HALF));
  Imf::OutputFile out(file.c_str(), header);
  out.setFrameBuffer(frameBuffer(samples));
  out.writePixels(height);
}

static void read(const std::string &file) {
  half *samples = static_cast<half *>(malloc(sizeof(half) * CHANNELS * width * height));
  Imf::InputFile in(file.c_str());
  in.setFrameBuffer(frameBuffer(samples));
  in.readPixels(0, height - 1);
  free(samples);
}

int main(int count, char **arguments) {
  const std::string folder = arguments[1];
  width = atoi(arguments[2]);
  height = atoi(arguments[3]);
  const int threads = atoi(arguments[4]);
  Imf::setGlobalThreadCount(threads > 1 ? threads : 0);
  std::unique_ptr<half[]> samples(new half[size_t(CHANNELS) * width * height]);
  unsigned seed = 1;
  for (int k = 0; k < CHANNELS; k++)
    for (int y = 0; y < height; y++)
      for (int x = 0; x < width; x++) {
        seed = seed * 1664525u + 1013904223u;
        const float noise = (seed >> 8) / 16777216.0f;
        const float base = 0.5f + 0.4f * sinf(0.003f * (k + 1) * x) * cosf(0.013f * y);
        samples[(size_t(k) * height + y) * width + x] = base * (1 + 0.2f * noise);
      }
  for (int k = 5; k < count; k++) write(folder + "/" + arguments[k] + ".exr", arguments[k], samples.get());
  std::cout << "ready" << std::endl;
  std::string what, compression;
  while (std::cin >> what >> compression) {
    const auto started = std::chrono::steady_clock::now();
    if (what == "read") read(folder + "/" + compression + ".exr");
    else write(folder + "/written.exr", compression, samples.get());
    const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - started;
    std::cout << took.count() << std::endl;
  }
}
