using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class SuppliersByHand : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<string>(
                name: "address",
                table: "suppliers",
                type: "character varying(200)",
                maxLength: 200,
                nullable: true,
                oldClrType: typeof(string),
                oldType: "character varying(200)",
                oldMaxLength: 200
            );

            migrationBuilder.AddColumn<string>(
                name: "order_to",
                table: "suppliers",
                type: "character varying(200)",
                maxLength: 200,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(name: "terms", table: "suppliers", type: "jsonb", nullable: true);

            migrationBuilder.AddCheckConstraint(
                name: "ck_suppliers_asked_or_kept",
                table: "suppliers",
                sql: "(address IS NULL) <> (terms IS NULL)"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropCheckConstraint(name: "ck_suppliers_asked_or_kept", table: "suppliers");

            migrationBuilder.DropColumn(name: "order_to", table: "suppliers");

            migrationBuilder.DropColumn(name: "terms", table: "suppliers");

            migrationBuilder.AlterColumn<string>(
                name: "address",
                table: "suppliers",
                type: "character varying(200)",
                maxLength: 200,
                nullable: false,
                defaultValue: "",
                oldClrType: typeof(string),
                oldType: "character varying(200)",
                oldMaxLength: 200,
                oldNullable: true
            );
        }
    }
}
