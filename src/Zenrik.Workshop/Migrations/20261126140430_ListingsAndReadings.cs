using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class ListingsAndReadings : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropCheckConstraint(name: "ck_battery_readings_energies", table: "battery_readings");

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "disabled_at",
                table: "technicians",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<DateOnly[]>(
                name: "days_off",
                table: "suppliers",
                type: "date[]",
                nullable: false,
                defaultValue: new DateOnly[0]
            );

            migrationBuilder.AlterColumn<string>(
                name: "decided",
                table: "repairs",
                type: "character varying(2000)",
                maxLength: 2000,
                nullable: true,
                oldClrType: typeof(string),
                oldType: "character varying(400)",
                oldMaxLength: 400,
                oldNullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "own_consumables",
                table: "repairs",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.AddColumn<string>(
                name: "cancelled",
                table: "part_orders",
                type: "character varying(300)",
                maxLength: 300,
                nullable: true
            );

            migrationBuilder.AlterColumn<string>(
                name: "said",
                table: "done_requests",
                type: "text",
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(1000)",
                oldMaxLength: 1000
            );

            migrationBuilder.AddColumn<string>(
                name: "act",
                table: "done_requests",
                type: "character varying(200)",
                maxLength: 200,
                nullable: false,
                defaultValue: ""
            );

            migrationBuilder.AddColumn<Guid>(
                name: "by_id",
                table: "done_requests",
                type: "uuid",
                nullable: false,
                defaultValue: new Guid("00000000-0000-0000-0000-000000000000")
            );

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "listed_at",
                table: "catalogue_fits",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "listed_by",
                table: "catalogue_fits",
                type: "character varying(60)",
                maxLength: 60,
                nullable: true
            );

            migrationBuilder.AlterColumn<double>(
                name: "full_wh",
                table: "battery_readings",
                type: "double precision",
                nullable: true,
                oldClrType: typeof(double),
                oldType: "double precision"
            );

            migrationBuilder.AlterColumn<double>(
                name: "design_wh",
                table: "battery_readings",
                type: "double precision",
                nullable: true,
                oldClrType: typeof(double),
                oldType: "double precision"
            );

            migrationBuilder.AddColumn<double>(
                name: "health",
                table: "battery_readings",
                type: "double precision",
                nullable: false,
                defaultValue: 0.0
            );

            // Readings are never changed; a column that follows from the others is filled once.
            migrationBuilder.Sql(
                """
                ALTER TABLE battery_readings DISABLE TRIGGER USER;
                UPDATE battery_readings SET health = LEAST(full_wh / design_wh, 2);
                ALTER TABLE battery_readings ENABLE TRIGGER USER;
                """
            );

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "expires_at",
                table: "api_tokens",
                type: "timestamp with time zone",
                nullable: false,
                defaultValueSql: "now() + interval '365 days'"
            );

            migrationBuilder.Sql("ALTER TABLE api_tokens ALTER COLUMN expires_at DROP DEFAULT;");

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "last_used_at",
                table: "api_tokens",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddCheckConstraint(
                name: "ck_battery_readings_energies",
                table: "battery_readings",
                sql: "health >= 0 AND health <= 2 AND (full_wh IS NULL OR full_wh >= 0) AND (design_wh IS NULL OR design_wh > 0)"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropCheckConstraint(name: "ck_battery_readings_energies", table: "battery_readings");

            migrationBuilder.DropColumn(name: "disabled_at", table: "technicians");

            migrationBuilder.DropColumn(name: "days_off", table: "suppliers");

            migrationBuilder.DropColumn(name: "own_consumables", table: "repairs");

            migrationBuilder.DropColumn(name: "cancelled", table: "part_orders");

            migrationBuilder.DropColumn(name: "act", table: "done_requests");

            migrationBuilder.DropColumn(name: "by_id", table: "done_requests");

            migrationBuilder.DropColumn(name: "listed_at", table: "catalogue_fits");

            migrationBuilder.DropColumn(name: "listed_by", table: "catalogue_fits");

            migrationBuilder.DropColumn(name: "health", table: "battery_readings");

            migrationBuilder.DropColumn(name: "expires_at", table: "api_tokens");

            migrationBuilder.DropColumn(name: "last_used_at", table: "api_tokens");

            migrationBuilder.AlterColumn<string>(
                name: "decided",
                table: "repairs",
                type: "character varying(400)",
                maxLength: 400,
                nullable: true,
                oldClrType: typeof(string),
                oldType: "character varying(2000)",
                oldMaxLength: 2000,
                oldNullable: true
            );

            migrationBuilder.AlterColumn<string>(
                name: "said",
                table: "done_requests",
                type: "character varying(1000)",
                maxLength: 1000,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "text"
            );

            migrationBuilder.AlterColumn<double>(
                name: "full_wh",
                table: "battery_readings",
                type: "double precision",
                nullable: false,
                defaultValue: 0.0,
                oldClrType: typeof(double),
                oldType: "double precision",
                oldNullable: true
            );

            migrationBuilder.AlterColumn<double>(
                name: "design_wh",
                table: "battery_readings",
                type: "double precision",
                nullable: false,
                defaultValue: 0.0,
                oldClrType: typeof(double),
                oldType: "double precision",
                oldNullable: true
            );

            migrationBuilder.AddCheckConstraint(
                name: "ck_battery_readings_energies",
                table: "battery_readings",
                sql: "full_wh >= 0 AND design_wh > 0"
            );
        }
    }
}
