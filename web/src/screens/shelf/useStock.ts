import { useQuery } from "@tanstack/react-query";
import { api, got } from "../../lib/api";

export const useStock = () => useQuery({ queryKey: ["stock"], queryFn: () => got(api.GET("/api/stock")) });
