using Zenrik.Workshop.Photographs;

namespace Zenrik.Web.Hosting;

/// <summary>Files that people send.</summary>
internal static class Uploads
{
    /// <summary>Above what a photograph may have, so that one too large gets a sentence and not a broken connection.</summary>
    public const int MostBytes = 80 * 1024 * 1024;

    /// <summary>The file's content; of a file too large only enough to tell.</summary>
    public static Task<byte[]> Read(IFormFile file, CancellationToken stop) => Read(file, PhotoFile.MaxBytes + 1, stop);

    /// <param name="most">Bytes that are read at most.</param>
    public static async Task<byte[]> Read(IFormFile file, int most, CancellationToken stop)
    {
        await using var stream = file.OpenReadStream();
        var buffer = new byte[(int)Math.Min(file.Length, most)];
        await stream.ReadExactlyAsync(buffer, stop);
        return buffer;
    }
}
