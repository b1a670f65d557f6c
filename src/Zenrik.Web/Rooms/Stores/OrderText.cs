using System.Globalization;

namespace Zenrik.Web.Rooms.Stores;

/// <summary>An order in words, as it is sent to a supplier that has no other way to be asked.</summary>
public static class OrderText
{
    public static string Of(PartOrder order, string? organisation) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"""
            To {order.Supplier.Name}

            We order:
              {order.Quantity} × {order.Number}, {$"{order.Grade}".ToLowerInvariant()}
              to be sent by {order.Freight}

            Our mark: {Mark(order)}
            Please confirm with your own number and the day it leaves, and write our mark on the parcel.
            If you have another number in its place, ask before you send it.

            {order.By.Name}{(organisation is null ? "" : $", {organisation}")}, {order.At.ToLocalTime():d MMMM yyyy}
            """
        );

    /// <summary>What the parcel is known by: the repair it is for, and the beginning of the order's id.</summary>
    public static string Mark(PartOrder order) =>
        $"{(order.Repair is { } repair ? $"{repair.Code}-" : "")}{$"{order.Id:N}"[^6..].ToUpperInvariant()}";
}
