package dev.dusky.formats;

import dev.dusky.core.bytes.SpooledContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.failure.LibraryWords;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.WorkbookLayout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.LayoutReaders;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.ReadingOptions;
import org.dhatim.fastexcel.reader.Sheet;

/** Opens Office Open XML workbooks. */
public final class WorkbookReaders implements LayoutReaders {

  private static final Pattern FROM_1904 =
      Pattern.compile("<(?:\\w+:)?workbookPr\\s[^>]*\\bdate1904\\s*=\\s*[\"'](?:1|true)[\"']");

  /** How namespaces of the strict form begin. */
  private static final String STRICT = "http://purl.oclc.org/ooxml/";

  @Override
  public boolean reads(Layout layout) {
    return layout instanceof WorkbookLayout;
  }

  @Override
  public RecordReader open(SourceFile file, Layout layout, FieldRequest request)
      throws IOException {
    SpooledContent spooled = SpooledContent.of(file.content());
    try {
      checkKind(file.path(), spooled);
      checkForm(file.path(), spooled);
      ReadableWorkbook workbook =
          new ReadableWorkbook(
              spooled.file().toFile(), new ReadingOptions(hasStyles(spooled), false));
      Sheet sheet = sheet(file.path(), workbook, (WorkbookLayout) layout);
      return new WorkbookReader(
          file.path(), (WorkbookLayout) layout, spooled, workbook, sheet, from1904(spooled));
    } catch (IOException | RuntimeException e) {
      spooled.close();
      if (e instanceof Failure failure) {
        throw failure;
      }
      throw damaged(file.path(), e);
    }
  }

  static Failure damaged(String path, Exception e) {
    return Failure.file(path + " is cut or damaged")
        .because("it cannot be read as a workbook: " + LibraryWords.of(e))
        .hint("Nothing of it was loaded. Stage the file again, then load again")
        .from(e);
  }

  private static void checkKind(String path, SpooledContent spooled) throws IOException {
    byte[] head = new byte[(int) Math.min(8, spooled.size())];
    spooled.read(0, head, 0, head.length);
    if (ReadableWorkbook.isOLE2Header(head.length < 8 ? new byte[8] : head)) {
      String all =
          Files.size(spooled.file()) < (64 << 20)
              ? new String(Files.readAllBytes(spooled.file()), StandardCharsets.UTF_16LE)
              : "";
      boolean encrypted = all.contains("EncryptedPackage");
      throw Failure.file(
              path + (encrypted ? " is protected by a password" : " is a workbook of the old form"))
          .because(
              encrypted
                  ? "its content is encrypted"
                  : "it is a binary workbook from before Office Open XML (.xls)")
          .hint(
              encrypted
                  ? "Ask the sender for it without a password"
                  : "Save it as .xlsx and stage that");
    }
    if (head.length < 4 || head[0] != 'P' || head[1] != 'K') {
      throw Failure.file(path + " is not a workbook")
          .because("it is not a zip archive, which every .xlsx file is")
          .hint("Check which file was staged with {}", Invocation.of("peek"));
    }
  }

  /** Refuses workbooks of other forms than the one that is read, each by its name. */
  private static void checkForm(String path, SpooledContent spooled) throws IOException {
    String form = "";
    if (part(spooled, "xl/workbook.xml").contains(STRICT)) {
      form = "of the strict form of ISO/IEC 29500";
    } else if (part(spooled, "[Content_Types].xml").contains("sheet.binary")) {
      form = "of the binary form (.xlsb)";
    } else if (part(spooled, "mimetype").contains("opendocument.spreadsheet")) {
      form = "of the OpenDocument form (.ods)";
    }
    if (!form.isEmpty()) {
      throw Failure.file(path + " is a workbook of an unsupported form")
          .because("it is " + form)
          .hint("Save it as an ordinary .xlsx workbook (the transitional form) and stage that");
    }
  }

  /**
   * Whether days count from 1904. The workbook library knows only one of the two ways in which
   * ECMA-376 lets a truth value be written.
   */
  private static boolean from1904(SpooledContent spooled) throws IOException {
    return FROM_1904.matcher(part(spooled, "xl/workbook.xml")).find();
  }

  /** Whether cells can have formats: styles are optional, but the library insists when asked. */
  private static boolean hasStyles(SpooledContent spooled) throws IOException {
    return part(spooled, "[Content_Types].xml").contains("spreadsheetml.styles+xml");
  }

  /** The beginning of a part of the workbook, empty if there is no such part. */
  private static String part(SpooledContent spooled, String name) throws IOException {
    try (ZipFile zip = new ZipFile(spooled.file().toFile())) {
      ZipEntry entry = zip.getEntry(name);
      if (entry == null) {
        return "";
      }
      try (InputStream in = zip.getInputStream(entry)) {
        return new String(in.readNBytes(1 << 20), StandardCharsets.UTF_8);
      }
    }
  }

  private static Sheet sheet(String path, ReadableWorkbook workbook, WorkbookLayout layout) {
    List<Sheet> sheets = workbook.getSheets().toList();
    return sheets.stream()
        .filter(s -> layout.sheet().isEmpty() || s.getName().equals(layout.sheet()))
        .findFirst()
        .orElseThrow(
            () ->
                Failure.file("%s has no sheet '%s'".formatted(path, layout.sheet()))
                    .because(
                        "it has "
                            + sheets.stream()
                                .map(s -> "'" + s.getName() + "'")
                                .collect(Collectors.joining(", ")))
                    .hint("Set sheet in layout %s to one of them".formatted(layout.name())));
  }
}
