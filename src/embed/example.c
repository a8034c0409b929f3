/* SPDX-License-Identifier: Apache-2.0 */
/**
 * A game of five seconds that has no pictures: reads a scene, holds a key, and tells what came of it.
 *
 *   example weigh-in.snare.json Right
 */
#include "fresh_snare.h"

#include <stdio.h>

int main(int argc, char** argv)
{
    if (argc < 3) {
        fprintf(stderr, "usage: %s SCENE KEY\n", argv[0]);
        return 2;
    }
    fs_run* run = fs_open(argv[1], NULL);
    if (!run) {
        fprintf(stderr, "%s\n", fs_error());
        return 2;
    }
    int goesOn = 1;
    const int ticks = 5 * fs_rate(run);
    fs_key(run, argv[2], 1);
    for (int i = 0; i < ticks && goesOn; ++i) {
        goesOn = fs_step(run);
        for (const char* line; (line = fs_next_line(run)) != NULL;)
            printf("%s\n", line);
    }
    if (!goesOn)
        fprintf(stderr, "%s\n", fs_error());
    for (size_t i = 0; i < fs_piece_count(run); ++i) {
        fs_piece piece;
        if (fs_piece_at(run, i, &piece) && piece.present && !piece.pinned)
            fprintf(stderr, "%s at %.2f, %.2f\n", piece.id, piece.x, piece.y);
    }
    fs_close(run);
    return goesOn ? 0 : 3;
}
