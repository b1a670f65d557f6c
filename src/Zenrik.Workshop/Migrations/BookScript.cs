namespace Zenrik.Workshop.Migrations;

/// <summary>book.sql: what the first migration does by hand.</summary>
internal static class BookScript
{
    public static string Text
    {
        get
        {
            using var stream = typeof(BookScript).Assembly.GetManifestResourceStream("book.sql")!;
            using var reader = new StreamReader(stream);
            return reader.ReadToEnd();
        }
    }
}
