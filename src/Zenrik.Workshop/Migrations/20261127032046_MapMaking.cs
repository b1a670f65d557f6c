using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class MapMaking : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "is_draft",
                table: "service_map_revisions",
                type: "boolean",
                nullable: false,
                defaultValue: false
            );

            migrationBuilder.CreateTable(
                name: "draft_steps",
                columns: table => new
                {
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                    json = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_draft_steps", x => new { x.model_code, x.version });
                    table.CheckConstraint("ck_draft_steps_version", "version >= 1");
                    table.ForeignKey(
                        name: "fk_draft_steps_models_model_code",
                        column: x => x.model_code,
                        principalTable: "models",
                        principalColumn: "code",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_draft_steps_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_draft_steps_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(name: "ix_draft_steps_by_id", table: "draft_steps", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_draft_steps_repair_id", table: "draft_steps", column: "repair_id");

            migrationBuilder.Sql(
                """
                CREATE TRIGGER draft_steps_append_only BEFORE UPDATE OR DELETE ON draft_steps
                    FOR EACH ROW EXECUTE FUNCTION refuse_change();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "draft_steps");

            migrationBuilder.DropColumn(name: "is_draft", table: "service_map_revisions");
        }
    }
}
