using Microsoft.AspNetCore.Identity;

namespace Zenrik.Workshop.Book;

/// <summary>Somebody who signs in, whatever their role.</summary>
public sealed class Technician : IdentityUser<Guid>
{
    /// <summary>As shown beside what they did: "M. Tarn".</summary>
    public required string Name { get; set; }

    /// <summary>Since when nobody signs in under this name and none of its tokens work; null: it may be used.</summary>
    public DateTimeOffset? DisabledAt { get; set; }

    /// <summary>True while the password is one somebody else has made up: nothing else is done before it is changed.</summary>
    public bool MustChangePassword { get; set; }

    /// <summary>SHA-256 of the code on their badge, which has 80 random bits; null: they have none.</summary>
    public byte[]? BadgeHash { get; set; }

    /// <summary>Hash of the PIN that goes with it.</summary>
    public string? PinHash { get; set; }
}

/// <summary>Who does something; every use case that writes takes one.</summary>
public sealed record Actor(Guid Id, string Name);

/// <summary>The roles, from the start.</summary>
public static class Roles
{
    public const string Technician = "technician";
    public const string Storekeeper = "storekeeper";
    public const string Lead = "lead";
    public const string Reader = "reader";

    public static IReadOnlyList<string> All { get; } = [Technician, Storekeeper, Lead, Reader];

    /// <summary>Who works at the bench.</summary>
    public static IReadOnlyList<string> AtBench { get; } = [Technician, Lead];

    /// <summary>The one of several that may most; null of none.</summary>
    public static string? Most(IEnumerable<string> of) =>
        new[] { Lead, Technician, Storekeeper, Reader }.FirstOrDefault(of.Contains);
}
