package dev.dusky.cli.board;

/** What a key on the board asks for. */
enum BoardKey {
  UP,
  DOWN,
  DETAILS,
  SCAN,
  PAUSE,
  RESUME,
  REDRAW,
  QUIT
}
