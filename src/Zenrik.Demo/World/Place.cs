using Microsoft.EntityFrameworkCore;

namespace Zenrik.Demo.World;

/// <summary>Where the demo's suppliers and machines answer, which is known only once they do.</summary>
internal static class Place
{
    private const string Begins = "A demo world";

    /// <summary>Stands in the book until then; nothing listens there (RFC 863's port).</summary>
    public static readonly Uri Unknown = new("http://127.0.0.1:9/");

    /// <summary>What the sign-in page says.</summary>
    public static string Notice(Uri? here) =>
        $"""
            {Begins}: Skerrow Isles Council and all that is in it is invented.
            {string.Join(
                "\n",
                LoadDemo.People.GroupBy(p => p.Role).Select(g =>
                    $"{g.Key}: {string.Join(", ", g.Select(p => p.SignIn))}"
                )
            )}
            The password of each is {LoadDemo.Password}
            """
        + (here is null ? "" : $"\nIts machines speak at {here}");

    /// <summary>Writes it into the book, unless somebody has put their own in its place.</summary>
    public static async Task Is(WorkshopDb db, Uri here, CancellationToken stop = default)
    {
        var (ours, said) = ($"{here}suppliers/", Notice(here));
        await db.Database.ExecuteSqlAsync(
            $"""
            UPDATE suppliers SET address = {ours} || substring(address FROM '[a-z]+$')
            WHERE address ~ '/suppliers/(mainland|overseas|harbour)$'
            """,
            stop
        );
        await db.Database.ExecuteSqlAsync(
            $"UPDATE house_figures SET notice = {said} WHERE notice LIKE {Begins + "%"}",
            stop
        );
    }
}
