using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Zenrik.Core.Parts;
using Zenrik.Core.Sourcing;
using Zenrik.Core.Stock;

namespace Zenrik.Workshop.Book;

/// <summary>Somebody who sells parts: it answers over HTTP, or its terms and prices are kept by hand.</summary>
public sealed class Supplier
{
    public required Guid Id { get; init; }

    public required string Name { get; init; }

    /// <summary>Where its terms, prices and orders are: an absolute address over HTTP; null: kept by hand.</summary>
    public string? Address { get; set; }

    /// <summary>What a person has written down of it; null where it answers for itself.</summary>
    public KeptTerms? Terms { get; set; }

    /// <summary>Where a person sends orders: an e-mail address, a telephone number; null: not said.</summary>
    public string? OrderTo { get; set; }

    /// <summary>Days it neither packs nor sends, from its calendar.</summary>
    public DateOnly[] DaysOff { get; set; } = [];
}

/// <summary>Days on which a carrier does not leave, from its calendar; whoever sends by it.</summary>
public sealed class CarrierCalendar
{
    /// <summary>Longest name of a way of sending or of a carrier; a longer one is cut.</summary>
    internal const int MaxName = 60;

    /// <summary>The carrier as suppliers' terms name it.</summary>
    public required string Carrier { get; init; }

    public DateOnly[] DaysOff { get; set; } = [];
}

/// <summary>What a supplier last asked for a number. Kept, so that a supplier that is away can still be compared.</summary>
public sealed class StoredOffer
{
    public required Guid SupplierId { get; init; }

    public Supplier Supplier { get; init; } = null!;

    /// <summary>Canonical form of the number.</summary>
    public required string Canonical { get; init; }

    public required Offer Offer { get; set; }

    public required DateTimeOffset FetchedAt { get; set; }
}

public enum OrderState
{
    Ordered,
    Received,

    /// <summary>Something else arrived than was ordered.</summary>
    Wrong,
    Cancelled,
}

/// <summary>An order of one number, for a line of a repair or for the shelf.</summary>
public sealed class PartOrder
{
    public required Guid Id { get; init; }

    /// <summary>Made up by the page; also what the supplier knows the order by. The same request sent twice is one order.</summary>
    public required Guid RequestId { get; init; }

    public required Guid SupplierId { get; init; }

    public Supplier Supplier { get; init; } = null!;

    public required string Number { get; init; }

    public required PartGrade Grade { get; init; }

    public required int Quantity { get; init; }

    /// <summary>How many have arrived; a delivery may bring a part of an order.</summary>
    public int Arrived { get; set; }

    /// <summary>What all of it really cost, as the papers that came with it say; null until somebody enters it.</summary>
    public decimal? LandedInFact { get; set; }

    public required string Freight { get; init; }

    /// <summary>In the workshop's currency, for all of it.</summary>
    public required decimal Landed { get; init; }

    public required string Currency { get; init; }

    public required DateOnly Expected { get; set; }

    /// <summary>The supplier's own name for the order; null until it has acknowledged it.</summary>
    public string? Acknowledged { get; set; }

    public OrderState State { get; set; }

    public RepairId? RepairId { get; init; }

    public Repair? Repair { get; init; }

    public Guid? LineId { get; init; }

    public required DateTimeOffset At { get; init; }

    public required Guid ById { get; init; }

    public Technician By { get; init; } = null!;

    public DateTimeOffset? ReceivedAt { get; set; }

    /// <summary>Why it was cancelled, by whom; null while it stands.</summary>
    public string? Cancelled { get; set; }
}

/// <summary>What the house reckons with. One row.</summary>
public sealed class HouseFigures
{
    public const int MaxNotice = 1000;

    public int Id { get; init; } = 1;

    /// <summary>ISO 4217.</summary>
    public string Currency { get; set; } = "GBP";

    public decimal LabourPerHour { get; set; } = 30;

    public decimal LoanPerDay { get; set; } = 2;

    /// <summary>Workshop currency for one unit of others, by ISO 4217 code.</summary>
    public Dictionary<string, decimal> ExchangeRates { get; set; } = new() { ["EUR"] = 0.85m, ["USD"] = 0.78m };

    public const int MaxOrganisation = 80;

    /// <summary>Whose workshop it is; null: nobody has said.</summary>
    public string? Organisation { get; set; }

    /// <summary>What tags look like (<see cref="Core.Fleet.TagPattern"/>); null: anything goes.</summary>
    public string? TagPattern { get; set; }

    /// <summary>By its name in the IANA database: "Europe/London"; null: that of the machine the program runs on.</summary>
    public string? TimeZone { get; set; }

    /// <summary>What the sign-in page says to everybody who opens it; null: nothing.</summary>
    public string? Notice { get; set; }

    public Exchange Exchange => new(Currency, ExchangeRates);
}

internal sealed class SupplierConfiguration : IEntityTypeConfiguration<Supplier>
{
    public void Configure(EntityTypeBuilder<Supplier> builder)
    {
        builder.Property(s => s.Name).HasMaxLength(80);
        builder.Property(s => s.Address).HasMaxLength(200);
        builder.Property(s => s.OrderTo).HasMaxLength(200);
        builder
            .Property(s => s.Terms)
            .HasColumnType("jsonb")
            .HasConversion(
                t => t == null ? null : StoredJson.Write(t),
                t => t == null ? null : StoredJson.Read<KeptTerms>(t)
            );
        builder.ToTable(
            "suppliers",
            t => t.HasCheckConstraint("ck_suppliers_asked_or_kept", "(address IS NULL) <> (terms IS NULL)")
        );
        builder.HasIndex(s => s.Name).IsUnique();
    }
}

internal sealed class CarrierCalendarConfiguration : IEntityTypeConfiguration<CarrierCalendar>
{
    public void Configure(EntityTypeBuilder<CarrierCalendar> builder)
    {
        builder.HasKey(c => c.Carrier);
        builder.Property(c => c.Carrier).HasMaxLength(CarrierCalendar.MaxName);
    }
}

internal sealed class StoredOfferConfiguration : IEntityTypeConfiguration<StoredOffer>
{
    public void Configure(EntityTypeBuilder<StoredOffer> builder)
    {
        builder.HasKey(o => new { o.SupplierId, o.Canonical });
        builder.Property(o => o.Canonical).HasMaxLength(PartNumber.MaxLength);
        builder.HasIndex(o => o.Canonical);
        builder
            .Property(o => o.Offer)
            .HasColumnType("jsonb")
            .HasConversion(o => StoredJson.Write(o), o => StoredJson.Read<Offer>(o));
        builder.HasOne(o => o.Supplier).WithMany().HasForeignKey(o => o.SupplierId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class PartOrderConfiguration : IEntityTypeConfiguration<PartOrder>
{
    public void Configure(EntityTypeBuilder<PartOrder> builder)
    {
        builder.Property(o => o.Number).HasMaxLength(PartNumber.MaxLength);
        builder.Property(o => o.Freight).HasMaxLength(60);
        builder.Property(o => o.Currency).HasMaxLength(3);
        builder.Property(o => o.Acknowledged).HasMaxLength(60);
        builder.Property(o => o.Cancelled).HasMaxLength(300);
        builder.Property(o => o.Landed).HasPrecision(12, 2);
        builder.Property(o => o.LandedInFact).HasPrecision(12, 2);
        builder.HasIndex(o => o.RequestId).IsUnique();
        builder.HasIndex(o => new { o.State, o.Number });
        builder.HasOne(o => o.Supplier).WithMany().HasForeignKey(o => o.SupplierId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(o => o.Repair).WithMany().HasForeignKey(o => o.RepairId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne<RepairLine>().WithMany().HasForeignKey(o => o.LineId).OnDelete(DeleteBehavior.SetNull);
        builder.HasOne(o => o.By).WithMany().HasForeignKey(o => o.ById).OnDelete(DeleteBehavior.Restrict);
        builder.ToTable(
            "part_orders",
            t =>
                t.HasCheckConstraint(
                    "ck_part_orders_quantity",
                    "quantity > 0 AND landed >= 0 AND arrived BETWEEN 0 AND quantity"
                )
        );
    }
}

internal sealed class HouseFiguresConfiguration : IEntityTypeConfiguration<HouseFigures>
{
    public void Configure(EntityTypeBuilder<HouseFigures> builder)
    {
        builder.ToTable("house_figures", t => t.HasCheckConstraint("ck_house_figures_one", "id = 1"));
        builder.Property(f => f.Id).ValueGeneratedNever();
        builder.Property(f => f.Currency).HasMaxLength(3);
        builder.Property(f => f.LabourPerHour).HasPrecision(10, 2);
        builder.Property(f => f.LoanPerDay).HasPrecision(10, 2);
        builder.Ignore(f => f.Exchange);
        builder.Property(f => f.Notice).HasMaxLength(HouseFigures.MaxNotice);
        builder.Property(f => f.Organisation).HasMaxLength(HouseFigures.MaxOrganisation);
        builder.Property(f => f.TagPattern).HasMaxLength(32);
        builder.Property(f => f.TimeZone).HasMaxLength(64);
        builder
            .Property(f => f.ExchangeRates)
            .HasColumnType("jsonb")
            .HasConversion(
                r => StoredJson.Write(r),
                r => StoredJson.Read<Dictionary<string, decimal>>(r),
                new Microsoft.EntityFrameworkCore.ChangeTracking.ValueComparer<Dictionary<string, decimal>>(
                    (a, b) => StoredJson.Write(a) == StoredJson.Write(b),
                    r => StoredJson.Write(r).GetHashCode(StringComparison.Ordinal),
                    r => new Dictionary<string, decimal>(r)
                )
            );
    }
}
