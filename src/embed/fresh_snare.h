/* SPDX-License-Identifier: Apache-2.0 */
/**
 * Fresh Snare in a game: the same resolver as in the bench, behind a C interface (C99 and later, or
 * C++).
 *
 * A run is one scene under way. The game hands in what happened in a tick, lets it run, and reads
 * what came of it: lines of the log as JSON, poses, values. It draws and carries out what it
 * wants; nothing here draws, sounds, waits, or looks at a clock. The same scene, seed and inputs
 * give the same lines (T3).
 *
 * Lengths in metres, times in seconds, angles in degrees counter-clockwise, x to the right, y up.
 * Texts are UTF-8. What is handed in is copied. A run may be used by one thread at a time; several
 * runs do not know of each other.
 */
#ifndef FRESH_SNARE_H
#define FRESH_SNARE_H

#include <stddef.h>
#include <stdint.h>

#if defined(__GNUC__)
#define FS_API __attribute__((visibility("default")))
#else
#define FS_API
#endif

#ifdef __cplusplus
extern "C" {
#endif

/** A run of a scene. */
typedef struct fs_run fs_run;

/** "0.1.0" */
FS_API const char* fs_version(void);

/**
 * Why the last function that failed on this thread did so: "quay.snare.json:3:7: …" for a file that
 * cannot be read. Never NULL. Valid until the next failure on this thread.
 */
FS_API const char* fs_error(void);

/**
 * Reads a scene (NAME.snare.json), with its kits and pictures, and goes through tick 0 (K9).
 * `seed`: of the random values; NULL: the scene's own. NULL if it fails.
 */
FS_API fs_run* fs_open(const char* scene_file, const uint32_t* seed);

/** The same from the text of a scene, which then has neither kits nor pictures. */
FS_API fs_run* fs_open_text(const char* scene_text, const uint32_t* seed);

/** Ends a run; NULL is allowed. What it gave out is no longer valid. */
FS_API void fs_close(fs_run* run);

/** How many ticks a second has. */
FS_API int fs_rate(const fs_run* run);

/** The last tick that was run; 0 at the start. */
FS_API int64_t fs_tick(const fs_run* run);

/* --- What happens in the next tick, in the order in which it is handed in (K2). Nothing is checked
 * here: what the scene does not know of has no effect, as in a take. */

/** A key goes down (1) or up (0). `key`: its X keysym name, such as "Right", "space", "e". */
FS_API void fs_key(fs_run* run, const char* key, int down);
/** The pointer moves to a place in the scene. */
FS_API void fs_pointer(fs_run* run, double x, double y);
/** The pointer moves to a place on the glass, from its lower left corner (P6). */
FS_API void fs_glass(fs_run* run, double x, double y);
/** A button of the pointer goes down (1) or up (0): "left", "right" or "middle". 0 for another word. */
FS_API int fs_button(fs_run* run, const char* button, int down);
/** A dial is set (P9). */
FS_API void fs_dial(fs_run* run, const char* dial, double value);
/**
 * A call comes in (P10). `values`: a JSON object of numbers, truths and texts, or NULL for none.
 * 0 if it is none of these; the call does not come then.
 */
FS_API int fs_call(fs_run* run, const char* name, const char* values);
/** A driven piece goes there in the tick (V10). `turn`: NaN if it keeps its own. */
FS_API void fs_lead(fs_run* run, const char* piece, double x, double y, double turn);

/**
 * Runs one tick with what was handed in. 1 if it ran. 0 if the run has stopped (K8, S14) now or
 * before; fs_error says why.
 */
FS_API int fs_step(fs_run* run);

/* --- What came of it. */

/**
 * The next line of the log that was not read yet, as one JSON object without a line end; NULL if
 * there is none. Those of tick 0 come first. A response line has in `with` all that a host needs to
 * carry it out. Valid until the next call with this run.
 */
FS_API const char* fs_next_line(fs_run* run);

/** A piece at the end of the last tick. */
typedef struct fs_piece {
    const char* id;   /**< valid until the next fs_step or fs_close */
    double x, y, z;   /**< m */
    double turn;      /**< degrees */
    double scale;     /**< times its size as drawn */
    int present;      /**< 0 once it was removed, or while its phase keeps it away */
    int shown;        /**< 0 while it is hidden */
    int pinned;       /**< 1: it lies on the glass, its place is in metres of the view */
} fs_piece;

/** How many pieces the run has had so far: the scene's, then what was spawned. */
FS_API size_t fs_piece_count(const fs_run* run);
/** The piece with that number. 0 if there is none. */
FS_API int fs_piece_at(const fs_run* run, size_t number, fs_piece* piece);
/** The number of a piece by its id, removed ones included; -1 if there is none. */
FS_API int64_t fs_find(const fs_run* run, const char* id);

/**
 * A value by its path, such as "scene.parcels" or "scale.load", as JSON: 3, true, "west quay". NULL
 * if there is none. Valid until the next call with this run.
 */
FS_API const char* fs_value(fs_run* run, const char* path);

/**
 * All that was handed in so far, as the text of a take: saved beside the scene as NAME.take.json it
 * can be run again in the bench (N40). `scene_file` is named in it; NULL for none. Valid until the
 * next call with this run.
 */
FS_API const char* fs_take(fs_run* run, const char* scene_file);

#ifdef __cplusplus
}
#endif

#endif /* FRESH_SNARE_H */
