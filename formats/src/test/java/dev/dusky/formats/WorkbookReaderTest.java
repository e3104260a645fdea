package dev.dusky.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.WorkbookLayout;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import org.apache.poi.hssf.usermodel.HSSFWorkbook;
import org.apache.poi.poifs.crypt.EncryptionInfo;
import org.apache.poi.poifs.crypt.EncryptionMode;
import org.apache.poi.poifs.crypt.Encryptor;
import org.apache.poi.poifs.filesystem.POIFSFileSystem;
import org.apache.poi.ss.usermodel.CellStyle;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Sheet;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class WorkbookReaderTest {

  private static WorkbookLayout layout(String sheet, String range, HeaderUse header) {
    return new WorkbookLayout("w", sheet, range, header, true, List.of(""), 1 << 20);
  }

  private static final WorkbookLayout PLAIN = layout("", "", HeaderUse.NAMES);

  private static byte[] bytes(Workbook workbook) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    workbook.write(out);
    workbook.close();
    return out.toByteArray();
  }

  @ParameterizedTest
  @ValueSource(strings = {"foreign.xlsx", "foreign-1904.xlsx"})
  void workbooksOfAnotherImplementationAreReadInBothDateSystems(String name) throws IOException {
    ReadRows rows = ReadRows.of(ReadRows.resource(name), PLAIN);
    assertEquals(
        List.of("id", "text", "amount", "day", "moment", "ok", "sum", "label"), rows.names());
    assertEquals(20, rows.rows().size());
    assertEquals("1|täxt 1|1.1|2026-03-01|2026-03-01 13:30:15|false|2|n1", rows.rows().get(0));
    assertEquals(
        "3|-|3.3000000000000003|2026-03-03|2026-03-03 13:30:15|false|6|n3", rows.rows().get(2));
    assertEquals("4|täxt 4|-|2026-03-04|2026-03-04 13:30:15|true|8|n4", rows.rows().get(3));
    assertEquals("sheet Data, row 2", rows.places().get(0));
    assertEquals(
        "[\"1\",\"täxt 1\",\"1.1\",\"2026-03-01\",\"2026-03-01 13:30:15\",\"false\",\"2\",\"n1\"]",
        rows.raws().get(0));
  }

  @Test
  void cellsBecomeTheTextOfTheirValue() throws IOException {
    Workbook workbook = new XSSFWorkbook();
    Sheet sheet = workbook.createSheet("S");
    String[] formats = {
      "General",
      "0.00",
      "#,##0",
      "dd/mm/yyyy",
      "yyyy-mm-dd hh:mm",
      "hh:mm:ss",
      "[h]:mm",
      "\"day\" 0",
      "mmm yy",
      "0.00E+00",
      "@"
    };
    Row head = sheet.createRow(0);
    Row row = sheet.createRow(1);
    for (int i = 0; i < formats.length; i++) {
      head.createCell(i).setCellValue("c" + i);
      CellStyle style = workbook.createCellStyle();
      style.setDataFormat(workbook.createDataFormat().getFormat(formats[i]));
      row.createCell(i).setCellValue(46_083.5);
      row.getCell(i).setCellStyle(style);
    }
    row.getCell(3).setCellValue(46_083);
    row.getCell(5).setCellValue(0.25);
    ReadRows rows = ReadRows.of(bytes(workbook), PLAIN);
    assertEquals(
        "46083.5|46083.5|46083.5|2026-03-02|2026-03-02 12:00:00|06:00:00|2026-03-02 12:00:00"
            + "|46083.5|2026-03-02 12:00:00|46083.5|46083.5",
        rows.rows().get(0));
  }

  @Test
  void errorsTruthsAndFormulasAreRead() throws IOException {
    Workbook workbook = new XSSFWorkbook();
    Sheet sheet = workbook.createSheet("S");
    Row head = sheet.createRow(0);
    Row row = sheet.createRow(1);
    for (int i = 0; i < 5; i++) {
      head.createCell(i).setCellValue("c" + i);
    }
    row.createCell(0).setCellValue(true);
    row.createCell(1).setCellFormula("1+1");
    row.createCell(2).setCellFormula("\"a\"&\"b\"");
    row.createCell(3).setCellFormula("1/0");
    row.createCell(4).setCellValue(" padded ");
    workbook.getCreationHelper().createFormulaEvaluator().evaluateAll();
    assertEquals("true|2|ab|#DIV/0!|padded", ReadRows.of(bytes(workbook), PLAIN).rows().get(0));
  }

  @Test
  void datesBeforeTheDayThatNeverWasAreRight() throws IOException {
    Workbook workbook = new XSSFWorkbook();
    Sheet sheet = workbook.createSheet("S");
    sheet.createRow(0).createCell(0).setCellValue("d");
    CellStyle style = workbook.createCellStyle();
    style.setDataFormat(workbook.createDataFormat().getFormat("yyyy-mm-dd"));
    double[] days = {1, 59, 61, 36_526};
    for (int i = 0; i < days.length; i++) {
      sheet.createRow(i + 1).createCell(0).setCellValue(days[i]);
      sheet.getRow(i + 1).getCell(0).setCellStyle(style);
    }
    assertEquals(
        List.of("1900-01-01", "1900-02-28", "1900-03-01", "2000-01-01"),
        ReadRows.of(bytes(workbook), PLAIN).rows());
  }

  private static byte[] ranged() throws IOException {
    Workbook workbook = new XSSFWorkbook();
    workbook.createSheet("First").createRow(0).createCell(0).setCellValue("nothing here");
    Sheet sheet = workbook.createSheet("Data");
    sheet.createRow(0).createCell(1).setCellValue("A title");
    String[][] cells = {
      {"x", "id", "name", "y"}, {"", "1", "a", "z"}, {}, {"", "2", "b", ""}, {"", "3", "", "q"}
    };
    for (int r = 0; r < cells.length; r++) {
      Row row = sheet.createRow(r + 2);
      for (int c = 0; c < cells[r].length; c++) {
        if (!cells[r][c].isEmpty()) {
          row.createCell(c).setCellValue(cells[r][c]);
        }
      }
    }
    return bytes(workbook);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "B3:C; 1|a 2|b 3|-",
        "B3:C6; 1|a 2|b",
        "B3; 1|a|z 2|b|- 3|-|q",
        "b3:d; 1|a|z 2|b|- 3|-|q",
        "A3; -|1|a|z -|2|b|- -|3|-|q"
      })
  void aRangeChoosesTheCells(String range, String expected) throws IOException {
    ReadRows rows = ReadRows.of(ranged(), layout("Data", range, HeaderUse.NAMES));
    assertEquals(expected, String.join(" ", rows.rows()));
    assertEquals("sheet Data, row 4", rows.places().get(0));
  }

  @Test
  void withoutHeaderAllRowsAreRecords() throws IOException {
    ReadRows rows = ReadRows.of(ranged(), layout("Data", "B3:C", HeaderUse.ABSENT));
    assertEquals(List.of(), rows.names());
    assertEquals(List.of("id|name", "1|a", "2|b", "3"), rows.rows());
  }

  @Test
  void aSheetThatDoesNotExistIsNamed() throws IOException {
    byte[] workbook = ranged();
    Failure failure =
        assertThrows(
            Failure.class, () -> ReadRows.of(workbook, layout("Dta", "", HeaderUse.NAMES)));
    assertTrue(
        failure.getMessage().contains("has no sheet 'Dta': it has 'First', 'Data'"),
        failure.getMessage());
  }

  @Test
  void anEmptySheetHasNoHeader() {
    Failure failure =
        assertThrows(
            Failure.class,
            () ->
                ReadRows.of(
                    ReadRows.resource("foreign.xlsx"), layout("Empty", "", HeaderUse.NAMES)));
    assertTrue(
        failure.getMessage().contains("has no header in sheet 'Empty'"), failure.getMessage());
  }

  @Test
  void aPasswordIsTold() throws IOException, GeneralSecurityException {
    POIFSFileSystem files = new POIFSFileSystem();
    Encryptor encryptor = new EncryptionInfo(EncryptionMode.agile).getEncryptor();
    encryptor.confirmPassword("secret");
    try (var out = encryptor.getDataStream(files)) {
      out.write(ranged());
    }
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    files.writeFilesystem(bytes);
    Failure failure = assertThrows(Failure.class, () -> ReadRows.of(bytes.toByteArray(), PLAIN));
    assertTrue(failure.getMessage().contains("is protected by a password"), failure.getMessage());
  }

  @Test
  void otherFilesAreTold() throws IOException {
    HSSFWorkbook old = new HSSFWorkbook();
    old.createSheet("x");
    byte[] bytes = bytes(old);
    Failure failure = assertThrows(Failure.class, () -> ReadRows.of(bytes, PLAIN));
    assertTrue(
        failure.getMessage().contains("is a workbook of the old form"), failure.getMessage());
    Failure text = assertThrows(Failure.class, () -> ReadRows.of("a,b\n".getBytes(), PLAIN));
    assertTrue(text.getMessage().contains("is not a workbook"), text.getMessage());
    byte[] whole = ranged();
    byte[] cut = Arrays.copyOf(whole, whole.length / 2);
    Failure damaged = assertThrows(Failure.class, () -> ReadRows.of(cut, PLAIN));
    assertTrue(damaged.getMessage().contains("is cut or damaged"), damaged.getMessage());
  }

  @Test
  void stylesAreOptional() throws IOException {
    Workbook styled = new XSSFWorkbook();
    Sheet sheet = styled.createSheet("Plain");
    sheet.createRow(0).createCell(0).setCellValue("n");
    sheet.createRow(1).createCell(0).setCellValue(46_083);
    ByteArrayOutputStream bare = new ByteArrayOutputStream();
    try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(bytes(styled)));
        ZipOutputStream out = new ZipOutputStream(bare)) {
      for (ZipEntry entry = in.getNextEntry(); entry != null; entry = in.getNextEntry()) {
        if (!entry.getName().endsWith("styles.xml")) {
          out.putNextEntry(new ZipEntry(entry.getName()));
          String part = new String(in.readAllBytes(), StandardCharsets.UTF_8);
          out.write(
              part.replaceAll("<(Override|Relationship) [^>]*styles[^>]*/>", "")
                  .getBytes(StandardCharsets.UTF_8));
        }
      }
    }
    assertEquals(List.of("46083"), ReadRows.of(bare.toByteArray(), PLAIN).rows());
  }

  @Test
  void aLargeSheetIsStreamed() throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (org.dhatim.fastexcel.Workbook workbook =
        new org.dhatim.fastexcel.Workbook(bytes, "test", "1.0")) {
      Worksheet sheet = workbook.newWorksheet("Big");
      sheet.value(0, 0, "n");
      sheet.value(0, 1, "t");
      sheet.value(0, 2, "at");
      for (int r = 1; r <= 60_000; r++) {
        sheet.value(r, 0, r);
        sheet.inlineString(r, 1, "row " + r);
        sheet.value(r, 2, LocalDateTime.of(2026, 3, 2, 5, 0).plusMinutes(r));
        sheet.style(r, 2).format("yyyy-MM-dd H:mm:ss").set();
        if (r % 1_000 == 0) {
          sheet.flush();
        }
      }
    }
    ReadRows rows = ReadRows.of(bytes.toByteArray(), PLAIN);
    assertEquals(60_000, rows.rows().size());
    assertEquals("1|row 1|2026-03-02 05:01:00", rows.rows().get(0));
    assertEquals("60000|row 60000|2026-04-12 21:00:00", rows.rows().get(59_999));
  }
}
