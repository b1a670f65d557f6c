using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class CarrierCalendars : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "carrier_calendars",
                columns: table => new
                {
                    carrier = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    days_off = table.Column<DateOnly[]>(type: "date[]", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_carrier_calendars", x => x.carrier);
                }
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "carrier_calendars");
        }
    }
}
