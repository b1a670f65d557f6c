using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class FirstDay : Migration
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

            migrationBuilder.AddColumn<string>(
                name: "organisation",
                table: "house_figures",
                type: "character varying(80)",
                maxLength: 80,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "tag_pattern",
                table: "house_figures",
                type: "character varying(32)",
                maxLength: 32,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "time_zone",
                table: "house_figures",
                type: "character varying(64)",
                maxLength: 64,
                nullable: true
            );

            migrationBuilder.CreateTable(
                name: "backups",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    file = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    bytes = table.Column<long>(type: "bigint", nullable: false),
                    rows = table.Column<long>(type: "bigint", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_backups", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "kept_files",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    sheet_id = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    name = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    content = table.Column<byte[]>(type: "bytea", nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    columns = table.Column<string>(type: "jsonb", nullable: false),
                    settings = table.Column<string>(type: "jsonb", nullable: false),
                    taken_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    said = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_kept_files", x => x.id);
                    table.ForeignKey(
                        name: "fk_kept_files_asp_net_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "repair_notes",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    text = table.Column<string>(type: "character varying(400)", maxLength: 400, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_repair_notes", x => x.id);
                    table.ForeignKey(
                        name: "fk_repair_notes_asp_net_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_repair_notes_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.AddCheckConstraint(
                name: "ck_suppliers_asked_or_kept",
                table: "suppliers",
                sql: "(address IS NULL) <> (terms IS NULL)"
            );

            migrationBuilder.CreateIndex(name: "ix_kept_files_by_id", table: "kept_files", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_kept_files_sheet_id_taken_at",
                table: "kept_files",
                columns: new[] { "sheet_id", "taken_at" }
            );

            migrationBuilder.CreateIndex(name: "ix_repair_notes_by_id", table: "repair_notes", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_repair_notes_collected_once",
                table: "repair_notes",
                column: "repair_id",
                unique: true,
                filter: "kind = 'Collected'"
            );

            migrationBuilder.CreateIndex(
                name: "ix_repair_notes_repair_id_id",
                table: "repair_notes",
                columns: new[] { "repair_id", "id" }
            );

            // History is never changed or deleted, as in book.sql.
            migrationBuilder.Sql(
                "CREATE TRIGGER repair_notes_append_only BEFORE UPDATE OR DELETE ON repair_notes FOR EACH ROW EXECUTE FUNCTION refuse_change();"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "backups");

            migrationBuilder.DropTable(name: "kept_files");

            migrationBuilder.DropTable(name: "repair_notes");

            migrationBuilder.DropCheckConstraint(name: "ck_suppliers_asked_or_kept", table: "suppliers");

            migrationBuilder.DropColumn(name: "order_to", table: "suppliers");

            migrationBuilder.DropColumn(name: "terms", table: "suppliers");

            migrationBuilder.DropColumn(name: "organisation", table: "house_figures");

            migrationBuilder.DropColumn(name: "tag_pattern", table: "house_figures");

            migrationBuilder.DropColumn(name: "time_zone", table: "house_figures");

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
