using System.Collections;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;

namespace Zenrik.Workshop.Book;

/// <summary>Says of the rows a context is about to save what changes in them.</summary>
internal static class Noting
{
    private const int LongestValue = 400;

    /// <summary>Kept as "changed", never as what it was or is.</summary>
    private static readonly HashSet<string> Secret =
    [
        nameof(Technician.PasswordHash),
        nameof(Technician.SecurityStamp),
        nameof(Technician.ConcurrencyStamp),
        nameof(ApiToken.Hash),
        nameof(Technician.BadgeHash),
        nameof(Technician.PinHash),
    ];

    /// <summary>What a save would change. Rows that only count or repeat others are left out.</summary>
    public static IEnumerable<AuditedChange> Pending(ChangeTracker tracker) =>
        tracker
            .Entries()
            .Where(e => e.Entity is not (AuditLine or DoneRequest))
            .Where(e => e.State is EntityState.Added or EntityState.Modified or EntityState.Deleted)
            .Select(Change)
            .OfType<AuditedChange>();

    /// <summary>What a line is found by: the words of its target and the names of the rows that changed.</summary>
    public static string[] Words(string target, IEnumerable<AuditedChange> changes) =>
        [
            .. changes
                .Select(c => c.Key)
                .OfType<string>()
                .Prepend(target)
                .SelectMany(text => text.ToUpperInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries))
                .Where(word => !Guid.TryParse(word, out _))
                .Distinct(),
        ];

    private static AuditedChange? Change(EntityEntry entry)
    {
        var (what, key) = (entry.Metadata.ShortName(), Key(entry));
        switch (entry.State)
        {
            case EntityState.Added:
                return new AuditedChange(what, key, null, null);
            case EntityState.Deleted:
                var had = entry.Properties.Where(p => Told(p.Metadata));
                return new AuditedChange(what, key, Values(had, p => p.OriginalValue), null);
            default:
                var changed = entry.Properties.Where(p => p.IsModified && Told(p.Metadata)).ToList();
                return changed.Count == 0
                    ? null
                    : new AuditedChange(
                        what,
                        key,
                        Values(changed, p => p.OriginalValue),
                        Values(changed, p => p.CurrentValue)
                    );
        }
    }

    /// <summary>What people call a row; null for one that has no name of its own, or none yet.</summary>
    private static string? Name(object row) =>
        row switch
        {
            Unit unit => unit.Tag,
            Repair { Number: > 0 } repair => repair.Code,
            Item item => item.Code,
            Bin bin => bin.Code,
            CatalogueNumber number => number.Number,
            PartOrder order => order.Number,
            MapFinding finding => finding.ModelCode,
            UnitQuestion { Unit: { } unit } => unit.Tag,
            FollowUp { Unit: { } unit } => unit.Tag,
            Supplier supplier => supplier.Name,
            Technician person => person.UserName,
            _ => null,
        };

    private static string? Key(EntityEntry entry)
    {
        if (Name(entry.Entity) is { } name)
        {
            return name;
        }

        var parts = entry.Properties.Where(p => p.Metadata.IsPrimaryKey()).ToList();
        return parts.Exists(p => p.IsTemporary)
            ? null
            : string.Join(' ', parts.Select(p => Text(p.Metadata, p.CurrentValue)));
    }

    /// <summary>Pictures, versions and what PostgreSQL computes say nothing to a reader.</summary>
    private static bool Told(IProperty property) =>
        (property.ClrType != typeof(byte[]) || Secret.Contains(property.Name))
        && !property.IsConcurrencyToken
        && property.GetComputedColumnSql() is null
        && !property.IsPrimaryKey();

    private static Dictionary<string, string?> Values(
        IEnumerable<PropertyEntry> properties,
        Func<PropertyEntry, object?> value
    ) =>
        properties.ToDictionary(
            p => p.Metadata.Name,
            p => Secret.Contains(p.Metadata.Name) ? "…" : Text(p.Metadata, value(p))
        );

    private static string? Text(IProperty property, object? value)
    {
        var stored = property.GetTypeMapping().Converter is { } converter ? converter.ConvertToProvider(value) : value;
        var text = stored switch
        {
            null => null,
            string s => s,
            DateTimeOffset at => at.ToString("O", CultureInfo.InvariantCulture),
            IFormattable formattable => formattable.ToString(null, CultureInfo.InvariantCulture),
            IEnumerable many => StoredJson.Write(many.Cast<object?>().Select(o => $"{o}")),
            _ => stored.ToString(),
        };
        return text?.Length > LongestValue ? $"{text[..LongestValue]}…" : text;
    }
}
