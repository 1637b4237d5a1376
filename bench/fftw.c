/*
 * The same work as a convolution of three planes, by FFTW in single precision on one or more threads: for every line on
 * standard input it does it once and prints the milliseconds.
 */
#include <fftw3.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

static double now(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return t.tv_sec * 1e3 + t.tv_nsec / 1e6;
}

int main(int argc, char **argv) {
  if (argc != 6) return 2;
  const int width = atoi(argv[1]), height = atoi(argv[2]), length = atoi(argv[3]), rows = atoi(argv[4]);
  const int columns = length / 2 + 1;
  fftwf_init_threads();
  fftwf_plan_with_nthreads(atoi(argv[5]));
  float *plane = fftwf_alloc_real((size_t)length * rows);
  fftwf_complex *grid = fftwf_alloc_complex((size_t)columns * rows);
  fftwf_complex *spectrum = fftwf_alloc_complex((size_t)columns * rows);
  float *source = calloc((size_t)width * height, sizeof(float));
  float *result = calloc((size_t)width * height, sizeof(float));
  for (long i = 0; i < (long)width * height; i++) source[i] = (i * 7919 % 997) / 997.0f;
  for (long i = 0; i < (long)columns * rows; i++) spectrum[i][0] = 1.0f / length, spectrum[i][1] = 0.5f / rows;
  fftwf_plan forward = fftwf_plan_dft_r2c_2d(rows, length, plane, grid, FFTW_MEASURE);
  fftwf_plan inverse = fftwf_plan_dft_c2r_2d(rows, length, grid, plane, FFTW_MEASURE);
  char line[64];
  puts("ready");
  fflush(stdout);
  while (fgets(line, sizeof line, stdin)) {
    const double started = now();
    for (int c = 0; c < 3; c++) {
      memset(plane, 0, (size_t)length * rows * sizeof(float));
      for (int y = 0; y < height; y++)
        memcpy(plane + (size_t)y * length, source + (size_t)y * width, (size_t)width * sizeof(float));
      fftwf_execute(forward);
      for (long i = 0; i < (long)columns * rows; i++) {
        const float r = grid[i][0], j = grid[i][1];
        grid[i][0] = r * spectrum[i][0] - j * spectrum[i][1];
        grid[i][1] = r * spectrum[i][1] + j * spectrum[i][0];
      }
      fftwf_execute(inverse);
      for (int y = 0; y < height; y++)
        memcpy(result + (size_t)y * width, plane + (size_t)y * length, (size_t)width * sizeof(float));
    }
    printf("%f\n", now() - started);
    fflush(stdout);
  }
  return 0;
}
