from django.urls import path

from ridgeback.pictures import views

app_name = "pictures"
urlpatterns = [
    path("animals/<int:pk>/pictures/", views.wall, name="wall"),
    path("pictures/<int:pk>.jpg", views.picture, name="picture"),
    path("pictures/<int:pk>/small.jpg", views.small, name="small"),
    path("pictures/<int:pk>/away/", views.away, name="away"),
]
