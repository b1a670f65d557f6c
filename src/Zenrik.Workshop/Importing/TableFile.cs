using System.Globalization;
using System.IO.Compression;
using System.Text;
using CsvHelper;
using MiniExcelLibs;
using MiniExcelLibs.OpenXml;
using Zenrik.Core;
using Zenrik.Core.Importing;

namespace Zenrik.Workshop.Importing;

/// <summary>
/// A table as it stands in a file: text with separators (RFC 4180; comma, semicolon, tab or bar; UTF-8, UTF-16 by their
/// marks, Windows-1252 else) or a spreadsheet (XLSX, its first sheet). Rows are read one after the other, never all at once.
/// </summary>
internal sealed class TableFile
{
    /// <summary>Largest file read, in bytes.</summary>
    public const int MaxBytes = 64 * 1024 * 1024;

    /// <summary>Most rows read beside the headings.</summary>
    public const int MaxRows = 200_000;

    private const int MaxColumns = 400;

    /// <summary>Longest cell, in characters; a longer one is cut, and no column takes so much.</summary>
    private const int MaxCell = 4000;

    /// <summary>What a spreadsheet may come to once unpacked, in bytes.</summary>
    private const long MaxUnpacked = 1L << 30;

    /// <summary>How many times larger than packed; real sheets are up to some tens, a bomb some hundreds.</summary>
    private const int MaxRatio = 250;

    private readonly byte[] content;

    private TableFile(byte[] content, IReadOnlyList<string> headings) => (this.content, Headings) = (content, headings);

    /// <summary>As they stand in the first row.</summary>
    public IReadOnlyList<string> Headings { get; }

    /// <summary>Opens a file and reads its headings.</summary>
    public static Outcome<TableFile> Open(byte[] content)
    {
        if (content.Length == 0)
        {
            return Invalid("The file is empty.");
        }

        if (content.Length > MaxBytes)
        {
            return Invalid($"The file is over {MaxBytes / 1024 / 1024} MB. Take it in in pieces.");
        }

        if (IsZip(content) && Unpacked(content) is { } bomb)
        {
            return bomb;
        }

        if (!IsZip(content) && LooksBinary(content))
        {
            return Invalid(
                "That is neither a table in text (CSV) nor a spreadsheet (XLSX). Save it as one of the two."
            );
        }

        try
        {
            foreach (var row in new TableFile(content, []).All())
            {
                var headings = row.Cells.Reverse().SkipWhile(h => h.Trim().Length == 0).Reverse().ToList();
                return headings.Count switch
                {
                    0 => Invalid("Its first row is empty. It has to name the columns."),
                    > MaxColumns => Invalid($"It has {headings.Count} columns; at most {MaxColumns} are read."),
                    _ => new TableFile(content, headings),
                };
            }

            return Invalid("The file has no rows.");
        }
        catch (Exception e) when (IsUnreadable(e))
        {
            return Unreadable(e);
        }
    }

    /// <summary>The rows beside the headings, empty ones left out.</summary>
    /// <exception cref="InvalidDataException">It cannot be read further; its message is a sentence.</exception>
    public IEnumerable<SourceRow> Rows()
    {
        var count = 0;
        using var rows = All().GetEnumerator();
        for (var first = true; ; first = false)
        {
            try
            {
                if (!rows.MoveNext())
                {
                    yield break;
                }
            }
            catch (Exception e) when (IsUnreadable(e))
            {
                throw new InvalidDataException(Unreadable(e).Message, e);
            }

            if (first || rows.Current.Cells.All(c => c.Trim().Length == 0))
            {
                continue;
            }

            if (++count > MaxRows)
            {
                throw new InvalidDataException($"It has more than {MaxRows:N0} rows. Take it in in pieces.");
            }

            yield return rows.Current;
        }
    }

    private IEnumerable<SourceRow> All() => IsZip(content) ? Spreadsheet() : Text();

    private IEnumerable<SourceRow> Text()
    {
        using var csv = CsvReader.Create(
            new MemoryStream(content, writable: false),
            new CsvReaderOptions
            {
                HasHeader = false,
                Encoding = EncodingOf(content),
                DetectSeparatorHint = true,
                MaxRecordSize = 1024 * 1024,
                TrackLineNumbers = true,
            }
        );
        while (csv.Read())
        {
            var cells = new string[Math.Min(csv.FieldCount, MaxColumns + 1)];
            for (var i = 0; i < cells.Length; i++)
            {
                cells[i] = Cut(csv.GetString(i));
            }

            yield return new SourceRow((int)csv.LineNumber, cells);
        }
    }

    private IEnumerable<SourceRow> Spreadsheet()
    {
        using var stream = new MemoryStream(content, writable: false);
        var line = 0;
        foreach (
            IDictionary<string, object?> row in MiniExcel.Query(
                stream,
                useHeaderRow: false,
                excelType: ExcelType.XLSX,
                configuration: new OpenXmlConfiguration { Culture = CultureInfo.InvariantCulture }
            )
        )
        {
            line++;
            yield return new SourceRow(line, [.. row.Values.Take(MaxColumns + 1).Select(v => Cut(Cell(v)))]);
        }
    }

    private static string Cell(object? value) =>
        value switch
        {
            null => "",
            string s => s,
            DateTime at => at.TimeOfDay == TimeSpan.Zero
                ? at.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                : at.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
            double d => d.ToString("R", CultureInfo.InvariantCulture),
            IFormattable f => f.ToString(null, CultureInfo.InvariantCulture),
            _ => value.ToString() ?? "",
        };

    private static string Cut(string cell) => cell.Length > MaxCell ? cell[..MaxCell] : cell;

    private static bool IsZip(byte[] content) => content is [(byte)'P', (byte)'K', ..];

    /// <summary>Text has no byte 0, but for UTF-16, which says so.</summary>
    private static bool LooksBinary(byte[] content) =>
        content is not ([0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
        && content.AsSpan(0, Math.Min(content.Length, 8192)).Contains((byte)0);

    /// <summary>UTF-8 and UTF-16 by their marks; UTF-8 too where all of it is; else what European spreadsheets write.</summary>
    private static Encoding? EncodingOf(byte[] content)
    {
        if (content is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..] or [0xEF, 0xBB, 0xBF, ..])
        {
            return null;
        }

        return System.Text.Unicode.Utf8.IsValid(content)
            ? null
            : CodePagesEncodingProvider.Instance.GetEncoding(1252) ?? Encoding.Latin1;
    }

    /// <summary>Unpacks what is packed, counting, and keeps none of it: sizes written in a file may lie.</summary>
    private static Refusal? Unpacked(byte[] content)
    {
        try
        {
            using var archive = new ZipArchive(new MemoryStream(content, writable: false), ZipArchiveMode.Read);
            if (archive.GetEntry("xl/workbook.xml") is null)
            {
                return Invalid(
                    "That is a packed file, but no spreadsheet as XLSX. An older spreadsheet (XLS) or an open document (ODS) is saved as XLSX or CSV first."
                );
            }

            var buffer = new byte[64 * 1024];
            long total = 0;
            foreach (var entry in archive.Entries)
            {
                using var unpacked = entry.Open();
                for (int read; (read = unpacked.Read(buffer)) > 0; )
                {
                    total += read;
                    if (total > MaxUnpacked || (total > 1024 * 1024 && total > content.LongLength * MaxRatio))
                    {
                        return Invalid(
                            "That spreadsheet unpacks to far more than it holds. It is not read; save it anew from the program it comes from."
                        );
                    }
                }
            }

            return null;
        }
        catch (InvalidDataException)
        {
            return Invalid("That spreadsheet is damaged or not whole. Save it anew, or as CSV.");
        }
    }

    private static bool IsUnreadable(Exception e) =>
        e
            is CsvFormatException
                or InvalidDataException
                or System.Xml.XmlException
                or FormatException
                or OverflowException
                or KeyNotFoundException
                or ArgumentException
                or InvalidOperationException
                or IndexOutOfRangeException
                or NotSupportedException;

    private static Refusal Unreadable(Exception e) =>
        Invalid(
            e is CsvFormatException { LineNumber: > 0 and var line }
                ? $"The file cannot be read from line {line} on: a quotation mark is opened there and never closed, or the line is over 1 MB."
                : "The file cannot be read: it is damaged or not whole. Save it anew, or as CSV."
        );

    private static Refusal Invalid(string message) => new(RefusalReason.Invalid, message);
}
