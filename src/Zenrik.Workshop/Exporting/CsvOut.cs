using CsvHelper;

namespace Zenrik.Workshop.Exporting;

/// <summary>
/// Writes rows as CSV (RFC 4180) in UTF-8 with its mark, which spreadsheets need to tell it. A cell that a spreadsheet would
/// run as a formula is written so that it shows as text.
/// </summary>
public static class CsvOut
{
    private const int Often = 500;

    public static async Task<int> Write(
        Stream to,
        IReadOnlyList<string> headings,
        IAsyncEnumerable<IReadOnlyList<string?>> rows,
        CancellationToken stop = default
    )
    {
        var count = 0;
        await using var csv = CsvWriter.Create(
            to,
            new CsvWriterOptions
            {
                HasHeader = false,
                NewLine = "\r\n",
                WriteByteOrderMark = true,
                Injection = CsvInjection.Escape,
            },
            leaveOpen: true
        );
        await Record(headings);
        await foreach (var row in rows.WithCancellation(stop))
        {
            await Record(row);
            if (++count % Often == 0)
            {
                await csv.FlushAsync(stop);
            }
        }

        await csv.FlushAsync(stop);
        return count;

        async Task Record(IReadOnlyList<string?> cells)
        {
            foreach (var cell in cells)
            {
                csv.WriteField(cell ?? "");
            }

            await csv.EndRecordAsync(stop);
        }
    }
}
