from django.urls import path

from ridgeback.substrate import views, water

app_name = "substrate"
urlpatterns = [
    path("enclosures/<int:pk>/substrate/", views.substrate, name="substrate"),
    path("enclosures/<int:pk>/water/", water.water, name="water"),
]
