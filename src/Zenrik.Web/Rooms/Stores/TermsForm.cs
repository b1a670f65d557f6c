using Zenrik.Core.Sourcing;

namespace Zenrik.Web.Rooms.Stores;

/// <summary>A way of sending as it is typed.</summary>
public sealed record FreightRow
{
    public string? Name { get; init; }

    public decimal? Base { get; init; }

    public decimal? PerKg { get; init; }

    public DayOfWeek[]? Leaves { get; init; }

    public int? Days { get; init; }
}

/// <summary>A supplier's terms as they are typed: shares in per cent, empty for what is not said.</summary>
public sealed record TermsForm
{
    /// <summary>Rows for ways of sending.</summary>
    public const int Rows = 3;

    public string? OrderTo { get; init; }

    public string? Currency { get; init; } = "GBP";

    public decimal? Duty { get; init; }

    public decimal? Tax { get; init; } = 20;

    public bool TaxIncluded { get; init; }

    public decimal? MinimumOrder { get; init; }

    public decimal? Refund { get; init; } = 100;

    public decimal? ReturnFreight { get; init; }

    public int? Handling { get; init; } = 1;

    public FreightRow[]? Freight { get; init; } =
    [
        new()
        {
            Name = "post",
            Leaves = [DayOfWeek.Monday, DayOfWeek.Tuesday, DayOfWeek.Wednesday, DayOfWeek.Thursday, DayOfWeek.Friday],
            Days = 2,
        },
    ];

    /// <summary>The row of a way of sending; empty where there is none.</summary>
    public FreightRow Row(int at) => Freight?.ElementAtOrDefault(at) ?? new FreightRow();

    public KeptTerms Terms() =>
        new()
        {
            Currency = (Currency ?? "").Trim().ToUpperInvariant(),
            DutyShare = (Duty ?? 0) / 100,
            TaxShare = (Tax ?? 0) / 100,
            TaxIncluded = TaxIncluded,
            MinimumOrder = MinimumOrder,
            RefundShare = (Refund ?? 100) / 100,
            ReturnFreight = ReturnFreight ?? 0,
            HandlingDays = Handling ?? 0,
            Freight =
            [
                .. (Freight ?? [])
                    .Where(f => !string.IsNullOrWhiteSpace(f.Name))
                    .Select(f => new KeptFreight(
                        f.Name!.Trim(),
                        f.Base ?? 0,
                        f.PerKg ?? 0,
                        f.Leaves ?? [],
                        f.Days ?? 0
                    )),
            ],
        };

    public static TermsForm Of(KeptTerms terms, string? orderTo) =>
        new()
        {
            OrderTo = orderTo,
            Currency = terms.Currency,
            Duty = terms.DutyShare * 100,
            Tax = terms.TaxShare * 100,
            TaxIncluded = terms.TaxIncluded,
            MinimumOrder = terms.MinimumOrder,
            Refund = terms.RefundShare * 100,
            ReturnFreight = terms.ReturnFreight,
            Handling = terms.HandlingDays,
            Freight =
            [
                .. terms.Freight.Select(f => new FreightRow
                {
                    Name = f.Name,
                    Base = f.Base,
                    PerKg = f.PerKg,
                    Leaves = [.. f.Leaves],
                    Days = f.Days,
                }),
            ],
        };
}
