package dev.dusky.cli.render;

import dev.dusky.core.mend.MarkedRecord;
import dev.dusky.core.mend.MarkedRecord.Mark;
import java.util.ArrayList;
import java.util.List;

/**
 * Shows a record as it is in its file: line numbers, invisible characters made visible, and below
 * each line what is wrong in it, the place underlined.
 */
final class RecordView {

  private final Style style;
  private final int width;

  /** A view in lines of at most that many characters. */
  public RecordView(Style style, int width) {
    this.style = style;
    this.width = width;
  }

  /**
   * The lines.
   *
   * @param firstLine the number of the record's first physical line, or 0 if it has none
   */
  public List<String> lines(MarkedRecord record, long firstLine) {
    List<String> out = new ArrayList<>();
    String[] physical = record.text().split("\n", -1);
    String last = Long.toString(firstLine + physical.length - 1);
    int margin = Math.max(4, last.length()) + 1;
    int start = 0;
    for (int i = 0; i < physical.length; i++) {
      int end = start + physical[i].length();
      String number = firstLine == 0 ? "" : Long.toString(firstLine + i);
      boolean more = i < physical.length - 1;
      line(out, record, start, end, more, " ".repeat(margin - number.length()) + number, margin);
      start = end + 1;
    }
    return out;
  }

  private void line(
      List<String> out,
      MarkedRecord record,
      int start,
      int end,
      boolean more,
      String number,
      int margin) {
    StringBuilder shown = new StringBuilder();
    int[] at = new int[end - start + 1];
    int trailing = end;
    while (trailing > start && record.text().charAt(trailing - 1) == ' ') {
      trailing--;
    }
    for (int i = start; i < end; i++) {
      at[i - start] = shown.length();
      shown.append(visible(record.text().charAt(i), i >= trailing));
    }
    at[end - start] = shown.length();
    shown.append(more ? "\u240a" : "");
    List<Mark> here =
        record.marks().stream()
            .filter(mark -> mark.from() <= end && mark.from() >= start)
            .filter(mark -> mark.from() < end || mark.from() == mark.to() || start == end)
            .toList();
    int room = Math.max(20, width - margin - 3);
    int from = window(shown.length(), here, at, start, room);
    String head = from > 0 ? "\u2026" : "";
    boolean cut = shown.length() - from > room;
    int to = cut ? from + room - 1 : shown.length();
    out.add(
        style.faint(number + " | ")
            + head
            + shown.substring(from + head.length(), to)
            + (cut ? "\u2026" : ""));
    for (Mark mark : here) {
      int left = Math.max(0, at[mark.from() - start] - from);
      int right = Math.min(to, at[Math.min(mark.to(), end) - start]) - from;
      String gutter = style.faint(" ".repeat(margin) + " | ");
      out.add(gutter + " ".repeat(left) + style.bad("^".repeat(Math.max(1, right - left))));
      out.add(
          gutter
              + (mark.problem().column().isEmpty()
                  ? ""
                  : style.strong(mark.problem().column()) + ": ")
              + TableText.visible(mark.problem().message())
              + style.notable("  " + mark.problem().code().label()));
    }
  }

  /** Where to begin so that the first mark can be seen. */
  private static int window(int length, List<Mark> marks, int[] at, int start, int room) {
    if (length <= room || marks.isEmpty()) {
      return 0;
    }
    int first = at[marks.get(0).from() - start];
    return first < room * 2 / 3 ? 0 : Math.max(0, Math.min(first - room / 3, length - room));
  }

  private static String visible(char c, boolean trailing) {
    if (c == ' ') {
      return trailing ? "\u00b7" : " ";
    }
    if (c == 0xa0 || c == 0x202f || c == 0x2007) {
      return "\u237d";
    }
    boolean hidden =
        c == 0xfeff
            || c == 0x200b
            || c == 0x200c
            || c == 0x200d
            || c == 0x2060
            || c == 0xad
            || c >= 0x80 && c < 0xa0
            || c >= 0x200e && c <= 0x200f
            || c >= 0x202a && c <= 0x202e;
    return hidden ? "<U+%04X>".formatted((int) c) : TableText.visible(Character.toString(c));
  }
}
